// Codes by which students join a class by themselves, large enough to be read from the last row.
import { useState } from "react";
import { api } from "../api/client";
import type { ClassPage } from "../api/types";
import { dateTime } from "../ui/numbers";
import { Button } from "../ui/parts";
import { Select } from "../ui/Select";

const LENGTHS = [
  { minutes: 60, text: "for an hour" },
  { minutes: 180, text: "for three hours" },
  { minutes: 1440, text: "for a day" },
  { minutes: 10_080, text: "for a week" },
];

/** As it is read aloud: three, then four. */
export function spoken(code: string): string {
  return `${code.slice(0, 3)}-${code.slice(3)}`;
}

export function JoinCodes({ page, again }: { page: ClassPage; again: () => Promise<unknown> }) {
  const [minutes, setMinutes] = useState(60);
  const [problem, setProblem] = useState("");
  const act = (what: Promise<unknown>) =>
    void what.then(again).catch((error: Error) => setProblem(error.message));
  return (
    <section aria-label="Join codes" className="mb-6 rounded-md border border-hairline bg-sheet px-4 py-3">
      {page.codes.map(({ code, ends_at }) => (
        <div key={code} className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
          <strong className="font-mono text-[2rem] tracking-wider">{spoken(code)}</strong>
          <span className="flex-1">
            Students open <span className="font-mono">{window.location.host}/join</span> and type this code.
            It ends {dateTime(ends_at)}.
          </span>
          <Button onClick={() => act(api.endCode(page.id, code))}>End now</Button>
        </div>
      ))}
      <div className="flex flex-wrap items-center gap-2">
        <span className="text-ink-soft">
          {page.codes.length > 0 ? "Another code" : "Let students join with a code"}
        </span>
        <Select
          label="The code is valid for"
          value={String(minutes)}
          options={LENGTHS.map((each) => ({ value: String(each.minutes), text: each.text }))}
          onChange={(next) => setMinutes(Number(next))}
        />
        <Button onClick={() => act(api.createCode(page.id, minutes))}>Create join code</Button>
      </div>
      {problem && (
        <p role="alert" className="text-fail">
          {problem}
        </p>
      )}
    </section>
  );
}
