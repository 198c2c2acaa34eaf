/** The eye goes to the chip or field that now says what was chosen, and so does the focus. */
export function focusChip(label: string): void {
  document.querySelector<HTMLElement>(`[aria-label="${label}"]`)?.focus();
}
