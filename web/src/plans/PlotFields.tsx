// The plot that everything must stay in, and the marker: where it begins.
import { useId } from "react";
import type { Card } from "../api/types";
import { Field } from "../ui/fields";
import { nth } from "../ui/lists";
import { short } from "../ui/numbers";
import { Tick } from "../ui/parts";
import { TypedNumber } from "../ui/TypedNumber";
import { METRES } from "../view3d/units";

type Base = Card["base"];
type Three = [number, number, number];
type Props = { card: Card; onBase: (base: Base) => void };

export function PlotFields({ card, onBase }: Props) {
  const { base, conventions } = card;
  const ids = useId();
  const { plot } = base;
  return (
    <div>
      <VectorField
        label={`Marker at (${conventions.length})`}
        value={base.marker}
        onTake={(marker) => onBase({ ...base, marker })}
      />
      <Tick
        id={`${ids}plot`}
        text="All objects must stay inside a plot"
        on={Boolean(plot)}
        onChange={(on) => onBase({ ...base, plot: on ? firstPlot(conventions) : null })}
      />
      {plot && (
        <>
          <VectorField
            label={`Plot from (${conventions.length})`}
            value={plot.min}
            onTake={(min) => isBelow(min, plot.max) && onBase({ ...base, plot: { ...plot, min } })}
          />
          <VectorField
            label={`Plot to (${conventions.length})`}
            value={plot.max}
            onTake={(max) => isBelow(plot.min, max) && onBase({ ...base, plot: { ...plot, max } })}
          />
        </>
      )}
    </div>
  );
}

/** A dozen metres each way on the ground, and half as high. */
function firstPlot({ length, up }: Card["conventions"]): { min: Three; max: Three } {
  const metre = 1 / METRES[length];
  const along = (level: number, ground: number): Three =>
    up === "y" ? [ground, level, ground] : [ground, ground, level];
  return { min: along(0, -6 * metre), max: along(6 * metre, 6 * metre) };
}

function isBelow(min: Three, max: Three): boolean {
  return min.every((low, i) => low < nth(max, i));
}

type VectorProps = { label: string; value: readonly number[]; onTake: (value: Three) => void };

function VectorField({ label, value, onTake }: VectorProps) {
  const ids = useId();
  return (
    <Field label={label}>
      <div className="grid grid-cols-3 gap-1">
        {["X", "Y", "Z"].map((letter, i) => (
          <TypedNumber
            key={letter}
            id={ids + letter}
            label={`${label}, ${letter}`}
            shown={short(nth(value, i))}
            onTake={(next) => onTake(value.map((old, j) => (i === j ? next : old)) as Three)}
            className="h-8 w-full rounded-md border border-edge bg-sheet px-1.5 text-right font-mono"
          />
        ))}
      </div>
    </Field>
  );
}
