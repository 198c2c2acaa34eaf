// Put: set on a surface, where the pointer is or on a face of another object.
import { MapPin } from "lucide-react";
import { setBench } from "../state/store";
import { IconButton } from "../ui/parts";
import { Select } from "../ui/Select";
import { AmountChip, faceOf, ObjectChip, type SignedAxis, SignedAxisChip, Word } from "./chips";
import { type ChipsProps, type Kind, otherThan } from "./kind";

const FACES: readonly SignedAxis[] = ["+x", "-x", "+y", "-y", "+z", "-z"];

export const put: Kind<"put"> = {
  name: "Put",
  purpose: "Place an object on a surface, at a point",
  group: "Place",
  key: "U",
  acts: "one",
  begin: ({ chosen, objects, conventions }) => {
    const id = otherThan(chosen, objects);
    const box = objects.find((item) => item.id === id)?.local_box;
    const top: SignedAxis = conventions.up === "y" ? "+y" : "+z";
    return { offset: 0, align: null, ...(id && box ? { on: { object: id, ...faceOf(box, top) } } : {}) };
  },
  make: ({ on, align, offset }) => {
    if (!on) return "Choose a surface: point at it in the view, or choose an object and a face.";
    return offset === undefined
      ? "Type the distance from the surface, or 0."
      : { on, align: align ?? null, offset };
  },
  Chips,
};

function Chips({ values, change, context }: ChipsProps<"put">) {
  const { on } = values;
  const item = on && "object" in on ? context.objects.find(({ id }) => id === on.object) : undefined;
  const face = item?.local_box && on && FACES.find((f) => same(faceOf(item.local_box!, f), on));
  const onFace = (id: string, f: SignedAxis) => {
    const box = context.objects.find((other) => other.id === id)?.local_box;
    if (box) change({ on: { object: id, ...faceOf(box, f) } });
  };
  return (
    <>
      <Word>on</Word>
      <ObjectChip
        label="On"
        objects={context.objects.filter((other) => other.local_box && !context.chosen.includes(other.id))}
        value={item?.id}
        onChange={(id) => onFace(id, face ?? (context.conventions.up === "y" ? "+y" : "+z"))}
      />
      <Select
        label="At"
        value={face ?? "point"}
        options={[
          ...(face ? [] : [{ value: "point", text: "the point picked" }]),
          ...FACES.map((f) => ({ value: f, text: `middle of face ${f.replace("-", "−").toUpperCase()}` })),
        ]}
        onChange={(f) => item && f !== "point" && onFace(item.id, f as SignedAxis)}
      />
      <IconButton
        label="Pick the point on a surface in the view"
        onClick={() =>
          setBench({
            pointer: {
              kind: "picking",
              what: "contact",
              on: null,
              back: "At",
              take: (picked) => change({ on: picked }),
            },
          })
        }
      >
        <MapPin size={16} aria-hidden />
      </IconButton>
      <Word>its</Word>
      <SignedAxisChip
        label="Axis along the normal"
        none="keep rotation"
        value={values.align as SignedAxis | null | undefined}
        onChange={(align) => change({ align })}
      />
      <Word>off by</Word>
      <AmountChip
        label="Offset"
        unit={context.conventions.length}
        value={values.offset}
        onChange={(offset) => change({ offset: offset as number })}
      />
    </>
  );
}

type Placed = { point: readonly number[]; normal: readonly number[] };

function same(a: Placed, b: Placed): boolean {
  return (
    a.point.every((value, i) => value === b.point[i]) && a.normal.every((value, i) => value === b.normal[i])
  );
}
