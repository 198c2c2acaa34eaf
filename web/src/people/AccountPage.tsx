// One's own account: the password, where one is signed in, and joining a class by its code.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { Session } from "../api/types";
import { dateTime } from "../ui/numbers";
import { Button, ErrorNote, Heading } from "../ui/parts";
import { Shell } from "../ui/Shell";
import { Cell, Table } from "../ui/table";
import { PasswordForm } from "./PasswordForm";

export function Component() {
  return (
    <Shell title="Your account">
      <main className="mx-auto w-full max-w-3xl flex-1 space-y-8 overflow-y-auto px-6 py-6">
        <Password />
        <Sessions />
        <CalendarFeed />
        <JoinClass />
      </main>
    </Shell>
  );
}

function Password() {
  const [changed, setChanged] = useState(false);
  return (
    <section aria-label="Password">
      <Heading>Password</Heading>
      {changed ? (
        <p role="status" className="text-pass">
          ✓ Password changed. You are signed out on all other devices.
        </p>
      ) : (
        <PasswordForm done="Change password" onDone={() => setChanged(true)} />
      )}
    </section>
  );
}

/** What a browser says of itself, in two words where they are known. */
function browserWords(browser: string): string {
  const name = ["Firefox", "Edg", "OPR", "Chrome", "Safari"].find((each) => browser.includes(each));
  const system = ["Windows", "Android", "iPhone", "iPad", "Mac OS", "Linux"].find((each) =>
    browser.includes(each),
  );
  const known = name && ({ Edg: "Edge", OPR: "Opera" }[name] ?? name);
  return [known, system].filter(Boolean).join(" on ") || browser.slice(0, 40) || "Unknown";
}

function Sessions() {
  const cache = useQueryClient();
  const found = useQuery({ queryKey: ["sessions"], queryFn: api.sessions });
  const end = (what: Promise<unknown>) =>
    void what.finally(() => cache.invalidateQueries({ queryKey: ["sessions"] }));
  if (found.error) return <ErrorNote text={found.error.message} retry={() => found.refetch()} />;
  const rows: Session[] = found.data ?? [];
  return (
    <section aria-label="Your sessions">
      <Table caption="Your sessions" heads={["Browser", "Address", "Signed in", "Last seen", ""]}>
        {rows.map((row) => (
          <tr key={row.id} className="border-b border-hairline">
            <Cell>{browserWords(row.browser)}</Cell>
            <Cell>
              <span className="font-mono">{row.address || "–"}</span>
            </Cell>
            <Cell>{dateTime(row.began_at)}</Cell>
            <Cell>{dateTime(row.seen_at)}</Cell>
            <Cell right>
              {row.here ? (
                "this browser"
              ) : (
                <Button onClick={() => end(api.endSession(row.id))}>Sign out</Button>
              )}
            </Cell>
          </tr>
        ))}
      </Table>
      {rows.length > 1 && (
        <Button className="mt-2" onClick={() => end(api.endOtherSessions())}>
          Sign out everywhere else
        </Button>
      )}
    </section>
  );
}

function CalendarFeed() {
  const cache = useQueryClient();
  const found = useQuery({ queryKey: ["calendar"], queryFn: api.calendar });
  const [notice, setNotice] = useState<{ text: string; bad?: boolean } | null>(null);
  const address = found.data?.address ?? null;
  const renew = () =>
    void api
      .renewCalendar()
      .then((made) => {
        cache.setQueryData(["calendar"], made);
        setNotice(address ? { text: "✓ The old address no longer works." } : null);
      })
      .catch((error: Error) => setNotice({ text: error.message, bad: true }));
  return (
    <section aria-label="Calendar">
      <Heading>Calendar</Heading>
      <p className="mb-2 text-ink-soft">
        A calendar program that subscribes to this address shows your due dates. Whoever has the address can
        see them, so keep it to yourself.
      </p>
      <div className="flex flex-wrap items-center gap-2">
        {address && (
          <>
            <input
              readOnly
              aria-label="Calendar address"
              value={address}
              onFocus={(event) => event.target.select()}
              className="h-8 min-w-60 flex-1 rounded-md border border-edge bg-sheet px-2 font-mono text-sm"
            />
            <Button
              onClick={() =>
                void navigator.clipboard
                  .writeText(address)
                  .then(() => setNotice({ text: "✓ Copied." }))
                  .catch(() =>
                    setNotice({
                      text: "Your browser does not allow this. Select it and copy it.",
                      bad: true,
                    }),
                  )
              }
            >
              Copy
            </Button>
          </>
        )}
        <Button onClick={renew}>{address ? "New address" : "Create address"}</Button>
      </div>
      {notice && (
        <p
          role={notice.bad ? "alert" : "status"}
          className={`mt-1 ${notice.bad ? "text-fail" : "text-pass"}`}
        >
          {notice.text}
        </p>
      )}
    </section>
  );
}

function JoinClass() {
  const [code, setCode] = useState("");
  const [problem, setProblem] = useState("");
  const navigate = useNavigate();
  const cache = useQueryClient();
  return (
    <section aria-label="Join a class">
      <Heading>Join a class</Heading>
      <form
        className="flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          api
            .joinClass(code)
            .then(() => {
              cache.removeQueries({ queryKey: ["home"] });
              navigate("/");
            })
            .catch((error: Error) => setProblem(error.message));
        }}
      >
        <label className="flex items-center gap-2">
          Code from your instructor
          <input
            value={code}
            onChange={(event) => setCode(event.target.value)}
            className="h-8 w-36 rounded-md border border-edge bg-sheet px-2 font-mono uppercase"
          />
        </label>
        <Button type="submit" disabled={!code.trim()}>
          Join class
        </Button>
      </form>
      {problem && (
        <p role="alert" className="mt-1 text-fail">
          {problem}
        </p>
      )}
    </section>
  );
}
