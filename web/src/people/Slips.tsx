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
          <strong>These passwords are shown only once.</strong> Print them or write them down. With each, a
          student can only set a password of their own.
        </p>
        <Button onClick={() => window.print()}>
          <Printer size={14} aria-hidden />
          Print slips
        </Button>
        <Button look="main" onClick={onClose}>
          Done
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
              <dt>Username</dt>
              <dd className="font-mono">{slip.sign_in}</dd>
              <dt>One-time password</dt>
              <dd className="font-mono text-lg">{slip.password}</dd>
            </dl>
            <p className="text-sm text-ink-soft">Valid until {dateTime(slip.until)}.</p>
          </li>
        ))}
      </ul>
    </section>
  );
}
