// A point on an object, chosen by two lists: which object, and which place on its box.
import { useId } from "react";
import type { Point, SceneObject } from "../api/types";
import { PLACES, placeWords } from "./features";

export type ObjectPoint = Extract<Point, { object: string }>;

type Props = {
  label: string;
  objects: readonly SceneObject[];
  value: ObjectPoint;
  onChange: (point: ObjectPoint) => void;
};

const FIELD = "h-8 min-w-0 flex-1 rounded-md border border-edge bg-sheet px-2";

export function PointFields({ label, objects, value, onChange }: Props) {
  const id = useId();
  const places = objects.find((item) => item.id === value.object)?.local_box
    ? ["pivot", ...PLACES]
    : ["pivot"];
  return (
    <fieldset className="mt-3">
      <legend className="mb-1 text-sm font-semibold text-ink-soft">{label}</legend>
      <div className="flex gap-2">
        <ObjectField
          id={`${id}o`}
          objects={objects}
          value={value.object}
          onChange={(object) => onChange({ object, at: "pivot" })}
        />
        <label htmlFor={`${id}p`} className="sr-only">
          Place on it
        </label>
        <select
          id={`${id}p`}
          className={FIELD}
          value={value.at}
          onChange={(event) => onChange({ ...value, at: event.target.value })}
        >
          {places.map((place) => (
            <option key={place} value={place}>
              {placeWords(place)}
            </option>
          ))}
        </select>
      </div>
    </fieldset>
  );
}

type ObjectProps = {
  id: string;
  objects: readonly SceneObject[];
  value: string;
  onChange: (id: string) => void;
};

export function ObjectField({ id, objects, value, onChange }: ObjectProps) {
  return (
    <>
      <label htmlFor={id} className="sr-only">
        Object
      </label>
      <select id={id} className={FIELD} value={value} onChange={(event) => onChange(event.target.value)}>
        {objects.map((item) => (
          <option key={item.id} value={item.id}>
            {item.name}
          </option>
        ))}
      </select>
    </>
  );
}
