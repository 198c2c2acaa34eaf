// A dialog over the page: a title, a text, and the buttons that end it.
import { Dialog as Radix } from "radix-ui";
import type { ReactNode } from "react";
import { keepFocus } from "./focus";

type Props = {
  open: boolean;
  onClose?: () => void;
  title: string;
  text?: string;
  wide?: boolean;
  children: ReactNode;
};

export function Dialog({ open, onClose, title, text, wide = false, children }: Props) {
  return (
    <Radix.Root open={open} onOpenChange={(next) => !next && onClose?.()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-ink/30" />
        <Radix.Content
          // After the focus has gone back to the button that opened the dialog, if it still exists.
          onCloseAutoFocus={keepFocus}
          {...(text ? {} : { "aria-describedby": undefined })}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[94vh] ${wide ? "w-[min(52rem,92vw)]" : "w-[min(32rem,92vw)]"} overflow-y-auto -translate-x-1/2 -translate-y-1/2 rounded-lg border border-hairline bg-sheet p-6 shadow-xl`}
        >
          <Radix.Title className="text-lg font-semibold">{title}</Radix.Title>
          {text && <Radix.Description className="mt-2 text-ink-soft">{text}</Radix.Description>}
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}

export function DialogButtons({ children }: { children: ReactNode }) {
  return <div className="mt-5 flex flex-wrap justify-end gap-2">{children}</div>;
}
