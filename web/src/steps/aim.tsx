// Aim: turned about its own pivot so that an own axis points somewhere.
import type { Point } from "../api/types";
import { Switches } from "../ui/chips";
import { Select } from "../ui/Select";
import { PointChip, type SignedAxis, SignedAxisChip, VectorChip, Word } from "./chips";
import { asSpace, type ChipsProps, type Kind, otherThan } from "./kind";
import { SpaceChip } from "./SpaceChips";

export const aim: Kind<"aim"> = {
  name: "Aim",
  purpose: "Turn an object until one of its axes points at a target",
  group: "Orient",
  key: "I",
  acts: "chosen",
  begin: () => ({ axis: "+z", space: "world", about: null }),
  make: ({ axis, at, about, space }) => {
    if (!axis) return "Choose the axis that points.";
    return at ? { axis, at, about: about ?? null, space: space ?? "world" } : "Choose where it points.";
  },
  Chips,
};

function Chips({ values, change, context }: ChipsProps<"aim">) {
  const { at, about } = values;
  const along = at !== undefined && "direction" in at;
  return (
    <>
      <Word>its</Word>
      <SignedAxisChip
        label="Own axis"
        value={values.axis as SignedAxis}
        onChange={(axis) => axis && change({ axis })}
      />
      <Switches
        label="Where"
        value={along ? "along" : "at"}
        words={{ at: "at", along: "along" }}
        onChange={(way) => change({ at: way === "along" ? { direction: [1, 0, 0] } : (undefined as never) })}
      />
      {along ? (
        <VectorChip
          label="Direction"
          value={at.direction}
          onChange={(direction) => change({ at: direction ? { direction } : (undefined as never) })}
        />
      ) : (
        <PointChip
          label="At point"
          objects={context.objects}
          on={otherThan(context.chosen, context.objects)}
          value={at as Point | undefined}
          onChange={(point) => change({ at: point })}
        />
      )}
      <Select
        label="Turning"
        value={about ?? "freely"}
        options={[
          { value: "freely", text: "freely" },
          ...["x", "y", "z"].map((axis) => ({ value: axis, text: `only about ${axis.toUpperCase()}` })),
        ]}
        onChange={(axis) => change({ about: axis === "freely" ? null : (axis as "x" | "y" | "z") })}
      />
      {(along || about) && (
        <>
          <Word>of</Word>
          <SpaceChip
            objects={context.objects}
            value={values.space ?? "world"}
            onChange={(space) => change({ space: asSpace(space) })}
          />
        </>
      )}
    </>
  );
}
