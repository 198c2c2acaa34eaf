// Pivot: the point that an object turns and scales about, moved while the object stays.

import { Word } from "./chips";
import type { Kind } from "./kind";
import { PivotChip } from "./SpaceChips";

export const pivot: Kind<"pivot"> = {
  name: "Pivot",
  purpose: "Move the pivot; the object stays in place",
  group: "Points",
  key: "V",
  acts: "chosen",
  begin: () => ({ at: "box" }),
  make: ({ at }) => (at === undefined ? "Choose a place for the pivot." : { at }),
  Chips: ({ values, change, context }) => (
    <>
      <Word>to</Word>
      <PivotChip
        objects={context.objects}
        on={context.chosen.at(-1)}
        value={values.at ?? "box"}
        onChange={(at) => change({ at })}
      />
    </>
  ),
};
