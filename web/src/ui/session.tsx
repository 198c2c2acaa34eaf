// Who is signed in, for all screens.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext } from "react";
import { Navigate, useLocation } from "react-router";
import { FirstPassword } from "../account/FirstPassword";
import { api, Problem } from "../api/client";
import type { Person } from "../api/types";
import { ErrorNote, Waiting } from "./parts";

const PersonContext = createContext<Person | null>(null);

export function usePerson(): Person {
  const person = useContext(PersonContext);
  if (!person) throw new Error("usePerson belongs inside SignedIn");
  return person;
}

/** Shows its children to somebody signed in, and the way to the sign-in page to everybody else. */
export function SignedIn({ children }: { children: ReactNode }) {
  const here = useLocation().pathname;
  const who = useQuery({
    queryKey: ["who"],
    queryFn: api.who,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (who.isPending) return <Waiting what="One moment…" />;
  if (who.error instanceof Problem && who.error.body.status === 401)
    return <Navigate to="/sign-in" state={{ from: here }} replace />;
  if (who.error)
    return (
      <main className="p-6">
        <ErrorNote text={who.error.message} retry={() => who.refetch()} />
      </main>
    );
  return (
    <PersonContext value={who.data}>{who.data.must_choose ? <FirstPassword /> : children}</PersonContext>
  );
}

export function useSignOut(): () => void {
  const cache = useQueryClient();
  return () => {
    // Signed out or not: the screens forget who was here, and what they showed.
    api.signOut().finally(() => {
      cache.clear();
      window.location.assign("/sign-in");
    });
  };
}
