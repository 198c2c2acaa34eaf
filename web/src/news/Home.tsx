// The start page of both roles: what to do next, first; then what changed, what is open, and what is past.
import { Link } from "react-router";
import { api } from "../api/client";
import type { Home as HomeData } from "../api/types";
import { Invitations } from "../people/Invitations";
import { Page } from "../ui/Page";
import { usePerson } from "../ui/session";
import { Needs, Taught, YourClasses } from "./InstructorHome";
import { News, NextUp, nextOf, Past, ToCome, ToDo, Totals } from "./StudentHome";

export function Home() {
  return (
    <Page what="home" load={api.home} title={() => "Start page"} waiting="Loading your assignments…">
      {(home) => <Lists home={home} />}
    </Page>
  );
}

function Lists({ home }: { home: HomeData }) {
  const person = usePerson();
  return (
    <main className="mx-auto w-full max-w-6xl overflow-y-auto px-6 py-6">
      <p className="mb-6 text-lg font-semibold">Hello, {person.name.split(" ")[0]}</p>
      <div className="space-y-9">
        <Invitations rows={home.invitations} />
        {home.teaches && <Teaching home={home} />}
        {home.to_do.length > 0 && <Working home={home} />}
        {!home.teaches && home.to_do.length === 0 && <Nothing />}
      </div>
    </main>
  );
}

function Teaching({ home }: { home: HomeData }) {
  const now = Date.now();
  const open = home.taught.filter((row) => new Date(row.due_at).getTime() > now);
  const past = home.taught.filter((row) => new Date(row.due_at).getTime() <= now);
  return (
    <>
      <Needs rows={home.taught} />
      <YourClasses classes={home.classes} />
      {open.length > 0 && <Taught rows={open} caption="Assigned by you" />}
      {past.length > 0 && (
        <details>
          <summary className="cursor-pointer text-ink-soft">{past.length} past</summary>
          <Taught rows={past} caption="Past" />
        </details>
      )}
    </>
  );
}

function Working({ home }: { home: HomeData }) {
  const now = new Date();
  const next = nextOf(home.to_do, now);
  const to_come = home.to_do.filter((row) => row.opens_at !== null);
  const isPast = (row: (typeof home.to_do)[number]) => row.archived || new Date(row.due_at) <= now;
  const past = home.to_do.filter((row) => row.opens_at === null && isPast(row));
  const open = home.to_do.filter((row) => row.opens_at === null && !isPast(row));
  return (
    <>
      {next && <NextUp row={next} />}
      <News rows={home.news} />
      {open.length > 0 && <ToDo rows={open} caption="Your assignments" />}
      {to_come.length > 0 && <ToCome rows={to_come} />}
      <Totals rows={home.totals} />
      {past.length > 0 && <Past rows={past} />}
    </>
  );
}

function Nothing() {
  return (
    <p>
      Nothing is assigned to you yet. When your instructor assigns an exercise, it appears here. Do you have a
      join code?{" "}
      <Link to="/account" className="text-plum underline">
        Join a class
      </Link>
      .
    </p>
  );
}
