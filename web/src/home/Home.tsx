// The start page of both roles: what to do next, first; then what changed, what is open, and what is past.
import { Link } from "react-router";
import { api } from "../api/client";
import type { Home as HomeData } from "../api/types";
import { Page } from "../ui/Page";
import { usePerson } from "../ui/session";
import { ActionLink } from "../ui/table";
import { Invitations } from "./Invitations";
import { Needs, Taught, YourClasses } from "./Teaching";
import { News, NextUp, nextOf, Past, ToCome, ToDo } from "./Working";

export function Home() {
  return (
    <Page what="home" load={api.home} title={() => "Start"} waiting="Looking for what is set…">
      {(home) => <Lists home={home} />}
    </Page>
  );
}

function Lists({ home }: { home: HomeData }) {
  const person = usePerson();
  return (
    <main className="mx-auto w-full max-w-5xl overflow-y-auto px-6 py-8">
      <div className="mb-6 flex items-center">
        <p className="text-lg font-semibold">Hello, {person.name.split(" ")[0]}</p>
        {home.teaches && (
          <span className="ml-auto">
            <ActionLink to="/workshop">Workshop: make an exercise</ActionLink>
          </span>
        )}
      </div>
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
      {open.length > 0 && <Taught rows={open} caption="Set by you" />}
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
  const past = home.to_do.filter((row) => row.opens_at === null && new Date(row.due_at) <= now);
  const open = home.to_do.filter((row) => row.opens_at === null && new Date(row.due_at) > now);
  return (
    <>
      {next && <NextUp row={next} />}
      <News rows={home.news} />
      {open.length > 0 && <ToDo rows={open} caption="Set for you" />}
      {to_come.length > 0 && <ToCome rows={to_come} />}
      {past.length > 0 && <Past rows={past} />}
    </>
  );
}

function Nothing() {
  return (
    <p>
      Nothing is set for you yet. When your instructor sets an exercise, it stands here. You have a code of a
      class?{" "}
      <Link to="/account" className="text-plum underline">
        Come into it
      </Link>
      .
    </p>
  );
}
