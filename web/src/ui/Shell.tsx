// The head of every screen: the way home, where one is, and who one is.
import { BookOpen, ChevronDown, Moon, Sun } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { createContext, type ReactNode, useContext, useEffect, useRef, useState } from "react";
import { createPortal } from "react-dom";
import { Link, useLocation } from "react-router";
import { type Crumb, Crumbs } from "./Crumbs";
import { keepFocus } from "./focus";
import { pageFor } from "./guidePages";
import { MENU, MENU_ITEM } from "./Menu";
import mark from "./mark.svg";
import { IconButton, Tip } from "./parts";
import { usePerson, useSignOut } from "./session";
import { useTheme } from "./theme";

type Props = { title: string; trail?: readonly Crumb[]; children: ReactNode };

const ToolsSlot = createContext<HTMLElement | null>(null);

export function Shell({ title, trail = [], children }: Props) {
  const [slot, setSlot] = useState<HTMLElement | null>(null);
  const work = useRef<HTMLDivElement>(null);
  // Each time the page has drawn new data: a row with the focus may be gone.
  useEffect(keepFocus);
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
        Skip to content
      </button>
      <header className="flex min-h-12 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-hairline bg-sheet px-4 py-1">
        <Link to="/" className="flex items-center gap-2 rounded-sm font-semibold whitespace-nowrap">
          <img src={mark} alt="" className="size-6 rounded-sm dark:bg-[#fffdf8]" />
          <span className="cramped:sr-only">Cube Drill</span>
        </Link>
        <MainNav />
        <Crumbs trail={trail} title={title} />
        <div className="ml-auto flex items-center gap-2">
          <div ref={setSlot} className="flex items-center gap-2" />
          <HelpLink />
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

/** Puts a screen's own tools into the head, which stays as it is while the screen comes and changes. */
export function HeadTools({ children }: { children: ReactNode }) {
  const slot = useContext(ToolsSlot);
  return slot && createPortal(children, slot);
}

/** The two places that an instructor works in; a student has the start page alone. */
function MainNav() {
  const { teaches } = usePerson();
  const { pathname } = useLocation();
  if (!teaches)
    return (
      <span aria-hidden className="text-edge">
        /
      </span>
    );
  const places = [
    {
      to: "/",
      text: "Classes",
      here: pathname === "/" || /^\/(classes|assignments|result)\b/.test(pathname),
    },
    { to: "/workshop", text: "Workshop", here: pathname.startsWith("/workshop") },
  ];
  return (
    <nav aria-label="Main" className="flex gap-1 border-r border-hairline pr-3 cramped:border-0 cramped:pr-0">
      {places.map(({ to, text, here }) => (
        <Link
          key={to}
          to={to}
          aria-current={here || undefined}
          className={`rounded-md px-2 py-1 font-semibold ${here ? "bg-plum-soft text-plum" : "text-ink-soft hover:bg-well"}`}
        >
          {text}
        </Link>
      ))}
    </nav>
  );
}

/** Opens the guide at the page for this screen, in a new tab, so that nothing is left unsaved. */
function HelpLink() {
  const { pathname } = useLocation();
  if (pathname.startsWith("/help")) return null;
  return (
    <Tip text="Guide">
      <a
        href={`/help/${pageFor(pathname)}`}
        target="_blank"
        rel="noreferrer"
        aria-label="Guide"
        className="inline-flex size-8 items-center justify-center rounded-md hover:bg-well"
      >
        <BookOpen size={16} aria-hidden />
      </a>
    </Tip>
  );
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
