// Where the focus goes, and what keys in a field mean.
import type { KeyboardEvent } from "react";

/** Focus the chip or field that shows what was selected. Its text is selected, so that typing replaces it. */
export function focusChip(label: string): void {
  const found = document.querySelector<HTMLElement>(`[aria-label="${label}"]`);
  found?.focus();
  if (found instanceof HTMLInputElement) found.select();
}

/** Focus the first field whose label starts with these words, and select its text. */
export function focusFirst(label: string): void {
  const found = document.querySelector<HTMLInputElement>(`input[aria-label^="${label}"]`);
  found?.focus();
  found?.select();
}

/** Focus the work if the element that had the focus is gone. Call this after a change that may remove it. */
export function keepFocus(): void {
  // Not at once: while Tab moves the focus from one element to the next, none has it for a moment.
  window.setTimeout(() => {
    const lost = document.activeElement === null || document.activeElement === document.body;
    if (lost) document.getElementById("work")?.focus({ preventScroll: true });
  });
}

/** Whether a key is Enter that confirms a field: pressed once, and without Ctrl, which submits. */
export function isPlainEnter(event: KeyboardEvent): boolean {
  return event.key === "Enter" && !event.repeat && !event.ctrlKey && !event.metaKey;
}

/** Whether an element takes typed letters, so that single keys are no commands. */
export function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && target.closest("input, textarea, select, [contenteditable]") !== null
  );
}
