// A point on an object, chosen by two lists: which object, and which place on its box.
import type { Point, SceneObject } from "../api/types";
import { Select } from "../ui/Select";
import { PLACES, placeWords } from "./features";

export type ObjectPoint = Extract<Point, { object: string }>;

type Props = {
  label: string;
  objects: readonly SceneObject[];
  value: ObjectPoint;
  onChange: (point: ObjectPoint) => void;
};

const FIELD = "min-w-0 flex-1";

export function PointFields({ label, objects, value, onChange }: Props) {
  const places = objects.find((item) => item.id === value.object)?.local_box
    ? ["pivot", ...PLACES]
    : ["pivot"];
  return (
    <fieldset className="mt-3">
      <legend className="mb-1 text-sm font-semibold text-ink-soft">{label}</legend>
      <div className="flex gap-2">
        <ObjectField
          objects={objects}
          value={value.object}
          onChange={(object) => onChange({ object, at: "pivot" })}
        />
        <Select
          label="Place on it"
          className={FIELD}
          value={value.at}
          options={places.map((place) => ({ value: place, text: placeWords(place) }))}
          onChange={(at) => onChange({ ...value, at })}
        />
      </div>
    </fieldset>
  );
}

type ObjectProps = { objects: readonly SceneObject[]; value: string; onChange: (id: string) => void };

export function ObjectField({ objects, value, onChange }: ObjectProps) {
  return (
    <Select
      label="Object"
      className={FIELD}
      value={value}
      options={objects.map((item) => ({ value: item.id, text: item.name }))}
      onChange={onChange}
    />
  );
}
