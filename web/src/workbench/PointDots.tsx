// Points of a solid to pick in the view: face centres, edge middles and corners, as small dots that can be pressed.
import { useState } from "react";
import { CHOOSING, useBenchParts } from "../state/store";
import { edgeEnds, PLACES, placeLocal, placeWords } from "../steps/features";
import type { Setting } from "../steps/setting";
import { Label } from "../view3d/Label";
import { mapped } from "../view3d/matrices";

/** The eye goes to the chip that now says what was picked, and so does the focus. */
export function focusChip(label: string): void {
  document.querySelector<HTMLElement>(`[aria-label="${label}"]`)?.focus();
}

export function PointDots({ setting }: { setting: Setting }) {
  const { pointer, set } = useBenchParts("pointer", "set");
  const [under, setUnder] = useState<string | null>(null);
  if (pointer.kind !== "picking" || pointer.what === "contact") return null;
  const item = setting.objects.find((object) => object.id === pointer.on);
  if (!item?.local_box) return null;
  const places = pointer.what === "edge" ? PLACES.filter((at) => at.length === 2 || at.length === 4) : PLACES;
  const take = (at: string) => {
    if (pointer.what === "point") pointer.take({ object: item.id, at });
    else if (at.length === 2) pointer.take({ object: item.id });
    else {
      const [first, second] = edgeEnds(at);
      pointer.take({
        line: [
          { object: item.id, at: first },
          { object: item.id, at: second },
        ],
      });
    }
    set({ pointer: CHOOSING });
    focusChip(pointer.back);
  };
  return (
    <>
      {places.map((at) => (
        <Label key={at} live at={mapped(setting.poses[item.id]!.world_from_local, placeLocal(item, at)!)}>
          <button
            type="button"
            aria-label={`${placeWords(at)} of ${item.name}`}
            onPointerEnter={() => setUnder(at)}
            onPointerLeave={() => setUnder(null)}
            onClick={() => take(at)}
            className="pointer-events-auto grid size-6 place-items-center"
          >
            <span
              className={`block rounded-full border border-plum ${at.length === 6 ? "size-2.5" : "size-2"} ${under === at ? "bg-plum" : "bg-sheet"}`}
            />
          </button>
          {under === at && (
            <span className="absolute top-5 left-5 rounded-sm bg-ink px-1.5 py-0.5 text-sm whitespace-nowrap text-paper">
              {placeWords(at)}
            </span>
          )}
        </Label>
      ))}
    </>
  );
}
