// Points of a solid to pick in the view: face centres, edge middles and corners, as small dots that can be pressed.
import { CHOOSING, setBench, useBenchParts } from "../state/store";
import { edgeEnds, PLACES, placeLocal, placeWords } from "../steps/features";
import type { Setting } from "../steps/setting";
import { focusChip } from "../ui/focus";
import { entry } from "../ui/lists";
import { Dot } from "../view3d/Dot";
import { mapped } from "../view3d/matrices";

export function PointDots({ setting }: { setting: Setting }) {
  const { pointer } = useBenchParts("pointer");
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
    setBench({ pointer: CHOOSING });
    focusChip(pointer.back);
  };
  return (
    <>
      {places.map((at) => (
        <Dot
          key={at}
          at={mapped(entry(setting.poses, item.id).world_from_local, placeLocal(item, at)!)}
          name={`${placeWords(at)} of ${item.name}`}
          words={placeWords(at)}
          big={at.length === 6}
          onClick={() => take(at)}
        />
      ))}
    </>
  );
}
