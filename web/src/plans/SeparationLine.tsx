// Does it separate? The mistakes on a line by how far off they are in one check, with the tolerance as a mark to drag.
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { Separation } from "../api/types";
import { short } from "../ui/numbers";

type Props = {
  separation: Separation;
  check: string;
  tolerance: number;
  unit: string;
  chosen: number | null;
  onTolerance: (tolerance: number) => void;
  onChoose: (trial: number) => void;
};

const WIDTH = 560;
const HEIGHT = 92;
const EDGE = 14;
const LINE_Y = 58;

/** Where a distance stands on the line: by its power of ten, since mistakes are a hair or a house away. */
function scaleOf(values: readonly number[]) {
  const [least, most] = [Math.min(...values) / 3, Math.max(...values) * 3];
  const [low, high] = [Math.log10(least), Math.log10(most)];
  return {
    low,
    high,
    at: (value: number) => EDGE + ((Math.log10(value) - low) / (high - low)) * (WIDTH - 2 * EDGE),
    value: (x: number) => 10 ** (low + ((x - EDGE) / (WIDTH - 2 * EDGE)) * (high - low)),
  };
}

export function SeparationLine(props: Props) {
  const { separation, check, tolerance, unit, chosen, onTolerance, onChoose } = props;
  const svg = useRef<SVGSVGElement>(null);
  const trials = separation.trials.flatMap((trial, i) => {
    const off = trial.off[check] ?? 0;
    return off > 1e-9 ? [{ trial, off, i }] : [];
  });
  if (tolerance <= 0 || trials.length === 0)
    return <p className="text-sm text-ink-soft">This check detects no typical mistake.</p>;
  const scale = scaleOf([...trials.map(({ off }) => off), tolerance]);
  const powers = Array.from(
    { length: Math.floor(scale.high) - Math.ceil(scale.low) + 1 },
    (_, i) => Math.ceil(scale.low) + i,
  );
  const dragged = (event: PointerEvent<SVGElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const area = svg.current!.getBoundingClientRect();
    const value = scale.value(((event.clientX - area.left) / area.width) * WIDTH);
    onTolerance(Number(value.toPrecision(2)));
  };
  const typed = (event: KeyboardEvent) => {
    const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (!way) return;
    event.preventDefault();
    onTolerance(Number((tolerance * (way > 0 ? 1.1 : 1 / 1.1)).toPrecision(2)));
  };
  return (
    <svg ref={svg} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full select-none">
      <title>Mistakes by their error</title>
      <rect x={EDGE} y={LINE_Y - 4} width={scale.at(tolerance) - EDGE} height={8} className="fill-pass/25" />
      <line x1={EDGE} x2={WIDTH - EDGE} y1={LINE_Y} y2={LINE_Y} className="stroke-edge" />
      {powers.map((power) => (
        <g key={power} transform={`translate(${scale.at(10 ** power)} ${LINE_Y})`}>
          <line y2={6} className="stroke-edge" />
          <text y={20} textAnchor="middle" className="fill-ink-soft text-[11px]">
            {short(10 ** power)}
          </text>
        </g>
      ))}
      {trials.map(({ trial, off, i }, place) => {
        const caught = trial.caught_by.length > 0;
        return (
          <g key={i} transform={`translate(${scale.at(off)} ${LINE_Y - 10 - (place % 4) * 10})`}>
            {/* biome-ignore lint/a11y/useSemanticElements: a button cannot stand in a drawing */}
            <circle
              r={i === chosen ? 6 : 4.5}
              role="button"
              tabIndex={0}
              aria-label={`${trial.text} ${caught ? "Caught." : "Passes."}`}
              aria-pressed={i === chosen}
              onClick={() => onChoose(i)}
              onKeyDown={(event) => event.key === "Enter" && onChoose(i)}
              className={`cursor-pointer ${caught ? "fill-sheet stroke-ink-soft" : "fill-fail stroke-fail"} ${i === chosen ? "stroke-[3]" : ""}`}
            />
          </g>
        );
      })}
      <g transform={`translate(${scale.at(tolerance)} ${LINE_Y})`}>
        <line y1={-46} y2={6} className="stroke-plum stroke-2" />
        <rect
          x={-9}
          y={-58}
          width={18}
          height={12}
          rx={3}
          role="slider"
          tabIndex={0}
          aria-label="Tolerance"
          aria-valuemin={Number((10 ** scale.low).toPrecision(2))}
          aria-valuemax={Number((10 ** scale.high).toPrecision(2))}
          aria-valuenow={tolerance}
          aria-valuetext={`${short(tolerance)} ${unit}`}
          onKeyDown={typed}
          onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
          onPointerMove={dragged}
          className="cursor-ew-resize touch-none fill-plum"
        />
      </g>
    </svg>
  );
}
