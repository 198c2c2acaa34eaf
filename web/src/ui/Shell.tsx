// The head of every screen: the way home, where one is, and who one is.
import { ChevronDown, Moon, Sun } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import {
  createContext,
  type ReactNode,
  type RefObject,
  useContext,
  useEffect,
  useRef,
  useState,
} from "react";
import { createPortal } from "react-dom";
import { Link } from "react-router";
import { MENU, MENU_ITEM } from "./Menu";
import mark from "./mark.svg";
import { IconButton } from "./parts";
import { usePerson, useSignOut } from "./session";
import { useTheme } from "./theme";

type Props = { title: string; children: ReactNode };

const ToolsSlot = createContext<HTMLElement | null>(null);

export function Shell({ title, children }: Props) {
  const [slot, setSlot] = useState<HTMLElement | null>(null);
  const work = useRef<HTMLDivElement>(null);
  useKeptFocus(work);
  useEffect(() => {
    document.title = `${title} · Cube Drill`;
  }, [title]);
  return (
    <div className="flex h-full flex-col">
      <button
        type="button"
        onClick={() => work.current?.focus()}
        className="sr-only rounded-md bg-ink px-3 py-1.5 text-paper focus:not-sr-only focus:fixed focus:top-1.5 focus:left-1.5 focus:z-50"
      >
        Skip to the work
      </button>
      <header className="flex min-h-12 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-hairline bg-sheet px-4 py-1">
        <Link to="/" className="flex items-center gap-2 rounded-sm font-semibold whitespace-nowrap">
          <img src={mark} alt="" className="size-6 rounded-sm dark:bg-[#fffdf8]" />
          <span className="cramped:sr-only">Cube Drill</span>
        </Link>
        <span aria-hidden className="text-edge">
          /
        </span>
        <h1 className="min-w-24 flex-1 truncate">{title}</h1>
        <div className="ml-auto flex items-center gap-2">
          <div ref={setSlot} className="flex items-center gap-2" />
          <ThemeButton />
          <PersonMenu />
        </div>
      </header>
      <div ref={work} id="work" tabIndex={-1} className="flex min-h-0 flex-1 flex-col outline-none">
        <ToolsSlot value={slot}>{children}</ToolsSlot>
      </div>
    </div>
  );
}

/** The focus begins in the work, and comes back to it where what had it is taken away: it never falls to the page. */
function useKeptFocus(work: RefObject<HTMLDivElement | null>): void {
  useEffect(() => {
    const catchIt = () => {
      if (document.activeElement === document.body || document.activeElement === null)
        work.current?.focus({ preventScroll: true });
    };
    catchIt();
    // Not at once: while Tab takes the focus from one thing to the next, nothing has it for a moment.
    let timer = 0;
    const changes = new MutationObserver(() => {
      window.clearTimeout(timer);
      timer = window.setTimeout(catchIt);
    });
    changes.observe(document.body, { childList: true, subtree: true });
    return () => {
      window.clearTimeout(timer);
      changes.disconnect();
    };
  }, [work]);
}

/** Puts a screen's own tools into the head, which stays as it is while the screen comes and changes. */
export function HeadTools({ children }: { children: ReactNode }) {
  const slot = useContext(ToolsSlot);
  return slot && createPortal(children, slot);
}

export function ThemeButton() {
  const { theme, toggle } = useTheme();
  return (
    <IconButton label={theme === "dark" ? "Light colours" : "Dark colours"} onClick={toggle}>
      {theme === "dark" ? <Sun size={16} aria-hidden /> : <Moon size={16} aria-hidden />}
    </IconButton>
  );
}

function PersonMenu() {
  const person = usePerson();
  const signOut = useSignOut();
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="flex h-8 items-center gap-1 rounded-md px-2 whitespace-nowrap hover:bg-well">
        {person.name}
        <ChevronDown size={14} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className={MENU}>
          <DropdownMenu.Item asChild>
            <Link to="/account" className={MENU_ITEM}>
              Your account
            </Link>
          </DropdownMenu.Item>
          <DropdownMenu.Item onSelect={signOut} className={MENU_ITEM}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
