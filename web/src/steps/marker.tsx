// Marker: the point where new solids appear, and that steps can turn and scale about.
import type { Point } from "../api/types";
import { Switches } from "../ui/chips";
import { PointChip, Word } from "./chips";
import type { Kind } from "./kind";

export const marker: Kind<"marker"> = {
  name: "Marker",
  purpose: "Move the point where new solids appear",
  group: "Points",
  key: "M",
  acts: "none",
  begin: () => ({}),
  make: ({ to }) => (to === undefined ? "Choose a place for the marker." : { to }),
  Chips: ({ values, change, context }) => (
    <>
      <Word>to</Word>
      <Switches
        label="Where"
        value={values.to === "origin" ? "origin" : "point"}
        words={{ point: "a point", origin: "the origin" }}
        onChange={(way) => change({ to: way === "origin" ? "origin" : (undefined as never) })}
      />
      {values.to !== "origin" && (
        <PointChip
          label="To point"
          objects={context.objects}
          on={context.chosen.at(-1)}
          value={values.to as Point | undefined}
          onChange={(to) => change({ to })}
        />
      )}
    </>
  ),
};
