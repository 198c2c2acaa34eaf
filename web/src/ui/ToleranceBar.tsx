// How far off, beside how far off it may be: the band is the tolerance, the mark is where the object stands.
const SHOWN_TOLERANCES = 4; // the bar reaches this many tolerances each way

export function ToleranceBar({ difference, tolerance }: { difference: number; tolerance: number }) {
  const shown = tolerance > 0 ? difference / tolerance : Math.sign(difference) * SHOWN_TOLERANCES;
  const place = 50 + (Math.max(-1, Math.min(1, shown / SHOWN_TOLERANCES)) * 100) / 2;
  const band = 50 / SHOWN_TOLERANCES;
  const inside = Math.abs(shown) <= 1;
  return (
    <span aria-hidden className="relative block h-3 w-full bg-well">
      <span
        className="absolute inset-y-0 bg-pass/25"
        style={{ left: `${50 - band}%`, width: `${2 * band}%` }}
      />
      <span
        className={`absolute -inset-y-0.5 w-[3px] -translate-x-1/2 ${inside ? "bg-pass" : "bg-fail"}`}
        style={{ left: `${place}%` }}
      />
    </span>
  );
}
