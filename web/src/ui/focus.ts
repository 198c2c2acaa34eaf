// Where the focus goes, and what a key pressed in a field is for.
import type { KeyboardEvent } from "react";

/** The eye goes to the chip or field that now says what was chosen, and so does the focus: what is typed replaces it. */
export function focusChip(label: string): void {
  const found = document.querySelector<HTMLElement>(`[aria-label="${label}"]`);
  found?.focus();
  if (found instanceof HTMLInputElement) found.select();
}

/** Enter as it takes what is typed: pressed once, and not with Ctrl, which hands in. */
export function isPlainEnter(event: KeyboardEvent): boolean {
  return event.key === "Enter" && !event.repeat && !event.ctrlKey && !event.metaKey;
}

/** Whether what has the focus takes letters, so that a single key is no command. */
export function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && target.closest("input, textarea, select, [contenteditable]") !== null
  );
}
