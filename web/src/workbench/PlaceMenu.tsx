// Steps that move a point and no object: the marker, and the pivots of what is chosen.

import { Crosshair } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import type { SceneObject, Step } from "../api/types";
import { amountOf } from "../ui/amount";
import { Switches } from "../ui/chips";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { Button } from "../ui/parts";
import { listed } from "../ui/words";
import { type ObjectPoint, PointFields } from "./PointFields";

import { useBench } from "./store";

type Moved = "marker" | "pivot";
type Props = { objects: readonly SceneObject[]; onStep: (step: Step) => void };

export function PlaceMenu({ objects, onStep }: Props) {
  const [moving, setMoving] = useState<Moved | null>(null);
  const chosen = useBench((state) => state.sentence.objects);
  const ITEM =
    "cursor-pointer rounded-sm px-3 py-1.5 outline-none data-highlighted:bg-plum-soft data-disabled:opacity-50";
  return (
    <>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger className="flex h-8 items-center gap-1.5 rounded-md px-2 whitespace-nowrap hover:bg-well">
          <Crosshair size={16} aria-hidden />
          Points
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={4}
            className="z-50 min-w-48 rounded-md border border-hairline bg-sheet p-1 shadow-lg"
          >
            <DropdownMenu.Item className={ITEM} onSelect={() => setMoving("marker")}>
              Place the marker…
            </DropdownMenu.Item>
            <DropdownMenu.Item
              className={ITEM}
              disabled={chosen.length === 0}
              onSelect={() => setMoving("pivot")}
            >
              Move the pivot of the chosen…
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {moving && (
        <PlaceDialog
          moved={moving}
          objects={objects}
          chosen={chosen}
          onClose={() => setMoving(null)}
          onStep={(step) => {
            onStep(step);
            setMoving(null);
          }}
        />
      )}
    </>
  );
}

type Way = "origin" | "box" | "typed" | "point";
type DialogProps = Props & { moved: Moved; chosen: readonly string[]; onClose: () => void };

function PlaceDialog({ moved, objects, chosen, onClose, onStep }: DialogProps) {
  const [way, setWay] = useState<Way>("point");
  const [numbers, setNumbers] = useState(["0", "0", "0"]);
  const [point, setPoint] = useState<ObjectPoint>({ object: chosen.at(-1) ?? objects[0]!.id, at: "centre" });
  const values = numbers.map(amountOf);
  const names = listed(objects.filter((item) => chosen.includes(item.id)).map((item) => item.name));
  const ready = way !== "typed" || values.every((value) => value !== null);
  const place = way === "typed" ? (values as [number, number, number]) : way === "point" ? point : way;
  const take = () => {
    if (moved === "pivot") onStep({ op: "pivot", objects: [...chosen], at: place, entry: "typed" });
    else if (place !== "box") onStep({ op: "marker", objects: [], to: place, entry: "typed" });
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={moved === "marker" ? "Place the marker" : `Move the pivot of ${names}`}
      text={
        moved === "marker"
          ? "New solids appear at the marker, and steps can turn and scale about it."
          : "The pivot moves, the object stays where it is."
      }
    >
      <div className="mt-3">
        <Switches
          label="Where"
          value={way}
          words={{
            point: "A point on an object",
            typed: "Typed",
            origin: "The origin",
            ...(moved === "pivot" ? { box: "The middle" } : {}),
          }}
          onChange={setWay}
        />
      </div>
      {way === "point" && <PointFields label="Point" objects={objects} value={point} onChange={setPoint} />}
      {way === "typed" && (
        <fieldset className="mt-3 flex gap-2">
          <legend className="mb-1 text-sm font-semibold text-ink-soft">In world</legend>
          {numbers.map((number, i) => (
            <input
              key={"XYZ"[i]}
              aria-label={"XYZ"[i]}
              value={number}
              onChange={(event) => setNumbers(numbers.map((old, j) => (i === j ? event.target.value : old)))}
              className="h-8 w-24 rounded-md border border-edge bg-paper px-2 text-right font-mono"
            />
          ))}
        </fieldset>
      )}
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        <Button look="main" disabled={!ready} onClick={take}>
          {moved === "marker" ? "Place it" : "Move it"}
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
