// The chips for the space and for the pivot: words, another object, a line, a point picked on a solid.
import { useState } from "react";
import type { Pivot, SceneObject, Space } from "../api/types";
import type { SpaceChoice } from "../state/sentence";
import { setBench, useBenchParts } from "../state/store";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { Button } from "../ui/parts";
import { type Option, Select } from "../ui/Select";
import { ObjectField, type ObjectPoint, PointFields } from "./PointFields";
import { pivotWords, spaceWords } from "./spaces";

const SPACES: readonly Option[] = [
  { value: "world", text: "World" },
  { value: "parent", text: "Parent" },
  { value: "local", text: "Local" },
  { value: "view", text: "View" },
  { value: "ask object", text: "The axes of another object…" },
  { value: "ask line", text: "A line through two points…" },
  { value: "pick edge", text: "Pick an edge or face in the view" },
];

type SpaceProps = {
  objects: readonly SceneObject[];
  value: Space | SpaceChoice;
  onChange: (space: SpaceChoice) => void;
  /** Whether only the spaces that angles are set in are offered. */
  onlySet?: boolean;
};

export function SpaceChip({ objects, value, onChange, onlySet = false }: SpaceProps) {
  const { sentence } = useBenchParts("sentence");
  const [asking, setAsking] = useState<"object" | "line" | null>(null);
  const space: SpaceChoice = typeof value === "object" && "view" in value ? "view" : value;
  const take = (next: string) => {
    if (next === "ask object" || next === "ask line") setAsking(next === "ask line" ? "line" : "object");
    else if (next === "pick edge")
      setBench({
        pointer: {
          kind: "picking",
          what: "edge",
          on: sentence.objects.at(-1) ?? null,
          back: "Space",
          take: onChange,
        },
      });
    else if (next !== "custom") onChange(next as SpaceChoice);
  };
  const custom = typeof space !== "string";
  const spaces = onlySet ? SPACES.slice(0, 2) : SPACES;
  return (
    <>
      <Select
        label="Space"
        value={custom ? "custom" : space}
        shown={spaceWords(space, objects)}
        options={custom ? [{ value: "custom", text: spaceWords(space, objects) }, ...spaces] : spaces}
        onChange={take}
      />
      <SpaceDialog
        asking={asking}
        objects={objects}
        onClose={() => setAsking(null)}
        onTake={(next) => {
          onChange(next);
          setAsking(null);
        }}
      />
    </>
  );
}

type DialogProps = {
  asking: "object" | "line" | null;
  objects: readonly SceneObject[];
  onClose: () => void;
  onTake: (space: SpaceChoice) => void;
};

function SpaceDialog({ asking, objects, onClose, onTake }: DialogProps) {
  const first = objects[0]?.id ?? "";
  const [object, setObject] = useState(first);
  const [line, setLine] = useState<[ObjectPoint, ObjectPoint]>([
    { object: first, at: "pivot" },
    { object: first, at: "+x" },
  ]);
  const take = () => onTake(asking === "line" ? { line } : { object });
  return (
    <Dialog
      open={asking !== null}
      onClose={onClose}
      title={asking === "line" ? "Axes along a line" : "The axes of another object"}
      text={
        asking === "line"
          ? "X runs from the first point to the second. The second axis stays as close to up as possible."
          : "The step uses that object's own axes, with their origin at its pivot."
      }
    >
      {asking === "line" ? (
        <>
          <PointFields
            label="From"
            objects={objects}
            value={line[0]}
            onChange={(point) => setLine([point, line[1]])}
          />
          <PointFields
            label="To"
            objects={objects}
            value={line[1]}
            onChange={(point) => setLine([line[0], point])}
          />
        </>
      ) : (
        <div className="mt-3 flex">
          <ObjectField objects={objects} value={object} onChange={setObject} />
        </div>
      )}
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" onClick={take}>
          Use these axes
        </Button>
      </DialogButtons>
    </Dialog>
  );
}

const PIVOTS: readonly Option[] = [
  { value: "own", text: "its pivot" },
  { value: "box", text: "the centre of its box" },
  { value: "selection", text: "the middle of the selection" },
  { value: "origin", text: "the origin" },
  { value: "marker", text: "the marker" },
  { value: "ask", text: "A point on an object…" },
  { value: "pick", text: "Pick a point in the view" },
];

type PivotChipProps = {
  objects: readonly SceneObject[];
  value: Pivot;
  onChange: (pivot: Pivot) => void;
  /** The object that a point is looked for on first. */
  on?: string | undefined;
};

export function PivotChip({ objects, value, onChange, on }: PivotChipProps) {
  const [asking, setAsking] = useState(false);
  const custom = typeof value !== "string";
  const take = (next: string) => {
    if (next === "ask") setAsking(true);
    else if (next === "pick")
      setBench({
        pointer: { kind: "picking", what: "point", on: on ?? null, back: "Pivot", take: onChange },
      });
    else if (next !== "custom") onChange(next as Pivot);
  };
  return (
    <>
      <Select
        label="Pivot"
        value={custom ? "custom" : value}
        shown={pivotWords(value, objects)}
        options={custom ? [{ value: "custom", text: pivotWords(value, objects) }, ...PIVOTS] : PIVOTS}
        onChange={take}
      />
      {asking && (
        <PivotDialog
          objects={objects}
          first={on ?? objects[0]?.id ?? ""}
          onClose={() => setAsking(false)}
          onTake={(point) => {
            onChange(point);
            setAsking(false);
          }}
        />
      )}
    </>
  );
}

type PivotProps = {
  objects: readonly SceneObject[];
  first: string;
  onClose: () => void;
  onTake: (point: ObjectPoint) => void;
};

function PivotDialog({ objects, first, onClose, onTake }: PivotProps) {
  const [point, setPoint] = useState<ObjectPoint>({ object: first, at: "centre" });
  return (
    <Dialog
      open
      onClose={onClose}
      title="A point on an object"
      text="A face, an edge middle or a corner of its box."
    >
      <PointFields label="Point" objects={objects} value={point} onChange={setPoint} />
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" onClick={() => onTake(point)}>
          Use this point
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
