// Where the focus goes, and what a key pressed in a field is for.
import type { KeyboardEvent } from "react";

/** The eye goes to the chip or field that now says what was chosen, and so does the focus. */
export function focusChip(label: string): void {
  document.querySelector<HTMLElement>(`[aria-label="${label}"]`)?.focus();
}

/** Enter as it takes what is typed: pressed once, and not with Ctrl, which hands in. */
export function isPlainEnter(event: KeyboardEvent): boolean {
  return event.key === "Enter" && !event.repeat && !event.ctrlKey && !event.metaKey;
}
