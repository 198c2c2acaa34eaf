// Who is signed in, for all screens.
import { useQueryClient } from "@tanstack/react-query";
import { createContext, useContext } from "react";
import { api } from "../api/client";
import type { Person } from "../api/types";

export const PersonContext = createContext<Person | null>(null);

export function usePerson(): Person {
  const person = useContext(PersonContext);
  if (!person) throw new Error("usePerson belongs inside SignedIn");
  return person;
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
