const DAY_MS = 86_400_000;

/** The Monday after today, as a date. */
export function nextMonday(now: Date): string {
  const days = ((8 - now.getUTCDay()) % 7) + (now.getUTCDay() === 1 ? 7 : 0);
  return new Date(now.getTime() + days * DAY_MS).toISOString().slice(0, 10);
}
