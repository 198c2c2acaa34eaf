// Numbers for people: a real minus sign, fixed places so that they stand under each other.

/** Places after the point that a tolerance can tell apart: to a tenth of it or better. */
export function placesFor(tolerance: number): number {
  return tolerance > 0 ? Math.max(0, 1 - Math.floor(Math.log10(tolerance))) : 6;
}

export function fixed(value: number, places: number): string {
  const text = value.toFixed(places);
  return (Number(text) === 0 ? (0).toFixed(places) : text).replace("-", "−");
}

/** A difference: always with its sign, but for zero. */
export function signed(value: number, places: number): string {
  const text = fixed(value, places);
  return text.startsWith("−") || Number(text) === 0 ? text : `+${text}`;
}

/** A number as typed or dragged: as short as it can be. */
export function short(value: number): string {
  return String(Number(value.toPrecision(9))).replace("-", "−");
}

/** A measured number as people read it: to four figures, and 0 where rounding alone is left. */
export function measured(value: number, size = 1): string {
  return short(Math.abs(value) < 1e-9 * size ? 0 : Number(value.toPrecision(4)));
}

export function percent(share: number | null): string {
  return share === null ? "–" : `${Math.round(share * 100)}%`;
}

const DATE = new Intl.DateTimeFormat("en-GB", {
  weekday: "short",
  day: "numeric",
  month: "short",
  hour: "2-digit",
  minute: "2-digit",
});

export function dateTime(iso: string): string {
  return DATE.format(new Date(iso));
}

/** How far off a date is, in words. */
export function fromNow(iso: string, now: Date): string {
  const hours = (new Date(iso).getTime() - now.getTime()) / 3_600_000;
  const size = Math.abs(hours);
  const words =
    size < 1
      ? "less than an hour"
      : size < 48
        ? counted(Math.round(size), "hour")
        : counted(Math.floor(size / 24), "day");
  return hours < 0 ? `${words} ago` : `in ${words}`;
}

export function counted(count: number, noun: string): string {
  return `${count} ${noun}${count === 1 ? "" : "s"}`;
}
