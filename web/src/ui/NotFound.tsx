// Pages for when there is nothing to show: no such page, or the screen itself broke.
import type { ReactNode } from "react";
import { Link } from "react-router";
import { Button } from "./parts";

export function NotFound() {
  return (
    <Plain title="Page not found">
      <Link to="/" className="text-plum underline">
        Go to the start page
      </Link>
    </Plain>
  );
}

/** Shown in place of a screen that threw. Steps are safe: they are with the server or in this browser. */
export function Broken() {
  return (
    <Plain title="This page failed">
      <p className="mb-3">Your work is safe. Reload the page to continue.</p>
      <Button look="main" onClick={() => window.location.reload()}>
        Reload
      </Button>
    </Plain>
  );
}

function Plain({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main className="p-10">
      <h1 className="mb-2 text-lg font-semibold">{title}</h1>
      {children}
    </main>
  );
}
