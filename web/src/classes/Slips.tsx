// First passwords on slips, to be printed, cut and handed out. They are shown this once.
import { Printer } from "lucide-react";
import type { Slip } from "../api/types";
import { dateTime } from "../ui/numbers";
import { Button } from "../ui/parts";

type Props = { slips: readonly Slip[]; onClose: () => void };

export function Slips({ slips, onClose }: Props) {
  return (
    <section aria-label="One-time passwords" className="mx-auto w-full max-w-5xl px-6 py-6">
      <div className="mb-4 flex flex-wrap items-center gap-3 print:hidden">
        <p className="flex-1">
          <strong>These passwords are shown this once.</strong> Print them, or write them down; each opens
          nothing but the choice of one’s own.
        </p>
        <Button onClick={() => window.print()}>
          <Printer size={14} aria-hidden />
          Print the slips
        </Button>
        <Button look="main" onClick={onClose}>
          I have them
        </Button>
      </div>
      <ul className="grid grid-cols-2 gap-0 border-t border-l border-dashed border-edge max-sm:grid-cols-1">
        {slips.map((slip) => (
          <li
            key={slip.person}
            className="break-inside-avoid border-r border-b border-dashed border-edge px-4 py-3"
          >
            <p className="font-semibold">{slip.name}</p>
            <p className="text-sm text-ink-soft">Cube Drill, {window.location.host}</p>
            <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-3">
              <dt>Name to sign in</dt>
              <dd className="font-mono">{slip.sign_in}</dd>
              <dt>Password, once</dt>
              <dd className="font-mono text-lg">{slip.password}</dd>
            </dl>
            <p className="text-sm text-ink-soft">Good until {dateTime(slip.until)}.</p>
          </li>
        ))}
      </ul>
    </section>
  );
}
