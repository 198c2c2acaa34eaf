// All kinds of step beside move, rotate and scale, in the order of intent, with a search field.
import { ChevronUp } from "lucide-react";
import { Popover } from "radix-ui";
import { type KeyboardEvent, useId, useState } from "react";
import type { MoreOp } from "../state/sentence";
import { GROUPS } from "../steps/kind";
import { kindOf, MORE_OPS } from "../steps/registry";

type Props = { kinds: readonly string[]; onBegin: (op: MoreOp) => void };

export function MoreMenu({ kinds, onBegin }: Props) {
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState("");
  const [chosen, setAt] = useState<number | null>(null);
  const id = useId();
  const offered = MORE_OPS.filter((op) => kinds.includes(op));
  if (offered.length === 0) return null;
  const found = offered.filter((op) => matches(op, search));
  // Before an arrow key says otherwise, the one whose name begins with what is typed.
  const at =
    chosen ??
    Math.max(
      0,
      found.findIndex((op) => begins(op, search)),
    );
  const take = (op: MoreOp | undefined) => {
    if (!op) return;
    setOpen(false);
    onBegin(op);
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === "ArrowDown") setAt(Math.min(at + 1, found.length - 1));
    else if (event.key === "ArrowUp") setAt(Math.max(at - 1, 0));
    else if (event.key === "Enter") take(found[at]);
    else return;
    event.preventDefault();
  };
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setSearch("");
        setAt(null);
      }}
    >
      <Popover.Trigger className="inline-flex h-8 items-center gap-1 rounded-md border border-edge px-2.5 hover:bg-well">
        More <ChevronUp size={14} aria-hidden />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={4}
          aria-label="More kinds of step"
          className="z-50 max-h-[min(42rem,85vh)] w-[33rem] max-w-[90vw] overflow-y-auto rounded-md border border-hairline bg-sheet p-2 shadow-lg"
        >
          <input
            role="combobox"
            aria-expanded
            aria-controls={id}
            aria-activedescendant={found[at] && `${id}${found[at]}`}
            aria-label="Find a kind of step"
            placeholder="Find, such as align or copy"
            value={search}
            onChange={(event) => {
              setSearch(event.target.value);
              setAt(null);
            }}
            onKeyDown={onKey}
            className="mb-1 h-8 w-full rounded-md border border-edge bg-paper px-2"
          />
          <div id={id} role="listbox" aria-label="Kinds of step">
            {GROUPS.map((group) => {
              const here = found.filter((op) => kindOf(op).group === group);
              if (here.length === 0) return null;
              return (
                <fieldset key={group} aria-label={group}>
                  <p aria-hidden className="mt-1 px-2 text-sm font-semibold text-ink-soft">
                    {group}
                  </p>
                  {here.map((op) => (
                    <Item key={op} id={id + op} op={op} lit={found[at] === op} onTake={() => take(op)} />
                  ))}
                </fieldset>
              );
            })}
            {found.length === 0 && <p className="px-2 py-1 text-ink-soft">No step with this name.</p>}
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

type ItemProps = { id: string; op: MoreOp; lit: boolean; onTake: () => void };

function Item({ id, op, lit, onTake }: ItemProps) {
  const { name, purpose, key } = kindOf(op);
  return (
    <div
      id={id}
      role="option"
      tabIndex={-1}
      aria-selected={lit}
      onClick={onTake}
      onKeyDown={(event) => event.key === "Enter" && onTake()}
      className={`flex cursor-pointer items-baseline gap-2 rounded-sm px-2 py-0.5 hover:bg-plum-soft ${lit ? "bg-plum-soft" : ""}`}
    >
      <span className="w-20 shrink-0 font-semibold">{name}</span>
      <span className="flex-1 text-sm text-ink-soft">{purpose}</span>
      <kbd className="font-sans text-sm text-ink-soft">{keyWords(key)}</kbd>
    </div>
  );
}

export function keyWords(key: string): string {
  return key.length === 1 && key !== "+" ? `Shift + ${key}` : key;
}

function begins(op: MoreOp, search: string): boolean {
  return kindOf(op).name.toLowerCase().startsWith(search.trim().toLowerCase());
}

function matches(op: MoreOp, search: string): boolean {
  const { name, purpose } = kindOf(op);
  return `${name} ${purpose}`.toLowerCase().includes(search.trim().toLowerCase());
}
