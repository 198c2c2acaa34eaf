// A button that opens a list of things to do.
import { ChevronDown } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";
import { Button } from "./parts";

export const MENU = "z-50 min-w-40 rounded-md border border-hairline bg-sheet p-1 shadow-lg";
export const MENU_ITEM =
  "block cursor-pointer rounded-sm px-3 py-1.5 outline-none data-highlighted:bg-plum-soft";

type Props = { label?: string; button: ReactNode; items: readonly { text: string; act: () => void }[] };

/** label: what the button is called where its words alone do not tell. */
export function Menu({ label, button, items }: Props) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <Button {...(label ? { "aria-label": label } : {})}>
          {button}
          <ChevronDown size={14} aria-hidden />
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className={MENU}>
          {items.map(({ text, act }) => (
            <DropdownMenu.Item key={text} onSelect={act} className={MENU_ITEM}>
              {text}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
