// A button that opens a list of actions.
import { ChevronDown, Ellipsis } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";
import { Button } from "./parts";

export const MENU = "z-50 min-w-40 rounded-md border border-hairline bg-sheet p-1 shadow-lg";
export const MENU_ITEM =
  "block cursor-pointer rounded-sm px-3 py-1.5 outline-none data-highlighted:bg-plum-soft";

type Props = { label?: string; button: ReactNode; items: readonly { text: string; act: () => void }[] };

/** label: the accessible name, if the words on the button are not enough. */
export function Menu({ label, button, items }: Props) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <Button {...(label ? { "aria-label": label } : {})}>
          {button}
          <ChevronDown size={14} aria-hidden />
        </Button>
      </DropdownMenu.Trigger>
      <MenuList items={items} />
    </DropdownMenu.Root>
  );
}

/** The actions of a row of a table. label: says of what. */
export function RowMenu({ label, items }: { label: string; items: Props["items"] }) {
  if (items.length === 0) return null;
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={label}
        title={label}
        className="inline-flex h-7 w-8 pointer-coarse:h-8 items-center justify-center rounded-md align-middle hover:bg-well"
      >
        <Ellipsis size={16} aria-hidden />
      </DropdownMenu.Trigger>
      <MenuList items={items} />
    </DropdownMenu.Root>
  );
}

function MenuList({ items }: { items: Props["items"] }) {
  return (
    <DropdownMenu.Portal>
      <DropdownMenu.Content align="end" sideOffset={4} className={MENU}>
        {items.map(({ text, act }) => (
          <DropdownMenu.Item key={text} onSelect={act} className={MENU_ITEM}>
            {text}
          </DropdownMenu.Item>
        ))}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  );
}
