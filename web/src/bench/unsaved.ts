// Work that the server has not acknowledged, kept in the browser: it outlives a reload and a server that is down.
import type { Unsaved } from "./draft";

const key = (person: string, assignment: number) => `cube-drill:unsaved:${person}:${assignment}`;

export function keepUnsaved(person: string, assignment: number, unsaved: Unsaved): void {
  localStorage.setItem(key(person, assignment), JSON.stringify(unsaved));
}

export function forgetUnsaved(person: string, assignment: number): void {
  localStorage.removeItem(key(person, assignment));
}

export function readUnsaved(person: string, assignment: number): Unsaved | null {
  const text = localStorage.getItem(key(person, assignment));
  if (text === null) return null;
  try {
    const kept = JSON.parse(text) as Partial<Unsaved> & Omit<Unsaved, "off">;
    return { ...kept, off: kept.off ?? [] }; // an older version knew no steps switched off
  } catch {
    return null;
  }
}
