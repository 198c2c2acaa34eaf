// The few parts that every screen is made of.
import { Checkbox, Tooltip } from "radix-ui";
import type { ButtonHTMLAttributes, ReactNode, Ref } from "react";
import { Link } from "react-router";
import { Problem } from "../api/client";
import type { Verdict } from "../api/types";

type ButtonProps = ButtonHTMLAttributes<HTMLButtonElement> & {
  look?: "main" | "plain" | "quiet";
  ref?: Ref<HTMLButtonElement>;
};

const LOOKS = {
  main: "bg-plum text-on-plum border-plum font-semibold hover:opacity-90",
  plain: "bg-sheet text-ink border-edge hover:bg-well",
  quiet: "bg-transparent text-ink border-transparent hover:bg-well",
};

export function Button({ look = "plain", className = "", ...props }: ButtonProps) {
  return (
    <button
      type="button"
      {...props}
      className={`inline-flex h-8 items-center justify-center gap-1.5 rounded-md border px-3 whitespace-nowrap disabled:cursor-not-allowed disabled:opacity-50 ${LOOKS[look]} ${className}`}
    />
  );
}

/** A button that is only an icon: its name is said and shown. */
export function IconButton({
  label,
  keys,
  children,
  ...props
}: ButtonProps & { label: string; keys?: string }) {
  return (
    <Tip text={keys ? `${label} (${keys})` : label}>
      <Button look="quiet" {...props} aria-label={label} className="w-8 px-0!">
        {children}
      </Button>
    </Tip>
  );
}

export function Tip({ text, children }: { text: string; children: ReactNode }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={6}
          className="z-50 max-w-64 rounded-md bg-ink px-2 py-1 text-sm text-paper shadow-md"
        >
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

/** A box to tick, with its words. */
export function Tick({
  id,
  text,
  label,
  on,
  onChange,
}: {
  id: string;
  text: string;
  /** The accessible name, if there is no text. */
  label?: string;
  on: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <label htmlFor={id} className="flex cursor-pointer items-center gap-1.5">
      <Checkbox.Root
        id={id}
        aria-label={label}
        checked={on}
        onCheckedChange={(next) => onChange(next === true)}
        className="size-4 shrink-0 rounded-sm border border-edge bg-sheet data-[state=checked]:border-plum data-[state=checked]:bg-plum"
      >
        <Checkbox.Indicator className="block text-center text-xs leading-3.5 text-on-plum">
          ✓
        </Checkbox.Indicator>
      </Checkbox.Root>
      {text}
    </label>
  );
}

const VERDICTS: Record<Verdict, { glyph: string; word: string; standing: string; colour: string }> = {
  pass: { glyph: "✓", word: "Pass", standing: "In place", colour: "text-pass" },
  near: { glyph: "≈", word: "Near", standing: "Near", colour: "text-near" },
  fail: { glyph: "✕", word: "Fail", standing: "Off", colour: "text-fail" },
  "not judged": { glyph: "–", word: "Not judged", standing: "Not judged", colour: "text-grey" },
};

/** A verdict; with `standing`, how things stand while the work is still going on. */
export function VerdictMark({ verdict, standing = false }: { verdict: Verdict; standing?: boolean }) {
  const words = VERDICTS[verdict];
  return (
    <span className={`inline-flex items-baseline gap-1 font-semibold whitespace-nowrap ${words.colour}`}>
      <span aria-hidden>{words.glyph}</span>
      {standing ? words.standing : words.word}
    </span>
  );
}

export function Heading({ children }: { children: ReactNode }) {
  return <h2 className="mb-1.5 text-sm font-semibold text-ink-soft">{children}</h2>;
}

/** Something went wrong: what, and the way out. */
export function ErrorNote({ text, retry, way }: { text: string; retry?: () => void; way?: ReactNode }) {
  return (
    <div role="alert" className="flex flex-wrap items-center gap-3 border-l-4 border-fail bg-sheet px-4 py-3">
      <span>{text}</span>
      {retry && <Button onClick={retry}>Try again</Button>}
      {way}
    </div>
  );
}

/** A page that could not be had: why, and where to go on. classPage: of the same exercise, for who teaches it. */
export function NoPage({ error, retry, classPage }: { error: Error; retry: () => void; classPage?: string }) {
  const code = error instanceof Problem ? error.body.code : null;
  const LINK = "text-plum underline";
  const ways = (
    <>
      {code === "wrong-role" && classPage && (
        <Link to={classPage} className={LINK}>
          Submissions
        </Link>
      )}
      <Link to="/" className={LINK}>
        Start page
      </Link>
    </>
  );
  return (
    <main className="p-6">
      <ErrorNote text={error.message} {...(code ? {} : { retry })} way={ways} />
    </main>
  );
}

/** What stands for a page until it has come. */
export function Waiting({ what }: { what: string }) {
  return (
    <main>
      <p role="status" className="p-8 text-ink-soft">
        {what}
      </p>
    </main>
  );
}
