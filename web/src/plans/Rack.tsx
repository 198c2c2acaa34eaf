// The rack: the solids that can be added, each with a small drawing.
import type { ReactNode } from "react";
import type { StepOf } from "../state/sentence";
import { addOf, RACK, type RackKind } from "../steps/add";
import { begun, madeOf } from "../steps/registry";
import type { Setting } from "../steps/setting";

/** Drawn by eye in a frame of 40 by 32: faces in light, front and shade, as solids stand on the bench. */
const DRAWINGS: { readonly [K in RackKind]: ReactNode } = {
  cuboid: (
    <>
      <path d="M6 12 20 6 34 12 20 18Z" opacity={0.35} />
      <path d="M6 12 20 18V30L6 24Z" opacity={0.6} />
      <path d="M34 12 20 18V30L34 24Z" opacity={0.85} />
    </>
  ),
  wedge: (
    <>
      <path d="M6 24 20 30 34 10 20 6Z" opacity={0.35} />
      <path d="M20 30 34 24V10Z" opacity={0.85} />
    </>
  ),
  pyramid: (
    <>
      <path d="M20 4 6 24 20 30Z" opacity={0.5} />
      <path d="M20 4 34 24 20 30Z" opacity={0.85} />
    </>
  ),
  sphere: (
    <>
      <circle cx={20} cy={16} r={12} opacity={0.75} />
      <ellipse cx={16} cy={12} rx={5} ry={4} className="fill-sheet" opacity={0.5} />
    </>
  ),
  cylinder: (
    <>
      <path d="M9 9V24A11 4 0 0 0 31 24V9Z" opacity={0.8} />
      <ellipse cx={20} cy={9} rx={11} ry={4} className="fill-sheet" opacity={0.5} />
    </>
  ),
  cone: <path d="M20 3 9 25A11 4 0 0 0 31 25Z" opacity={0.8} />,
  tube: (
    <>
      <path d="M9 9V24A11 4 0 0 0 31 24V9Z" opacity={0.8} />
      <ellipse cx={20} cy={9} rx={11} ry={4} className="fill-sheet" opacity={0.6} />
      <ellipse cx={20} cy={9} rx={6} ry={2} />
    </>
  ),
  ring: (
    <path
      fillRule="evenodd"
      d="M4 17A16 9 0 1 1 36 17A16 9 0 1 1 4 17ZM12 16A8 3.5 0 1 0 28 16A8 3.5 0 1 0 12 16Z"
      opacity={0.8}
    />
  ),
  plate: <path d="M4 18 18 9 36 15 22 25Z" opacity={0.7} />,
};

type Props = { setting: Setting; onAdd: (step: StepOf<"add">) => void };

export function Rack({ setting, onAdd }: Props) {
  const { objects, conventions } = setting;
  const take = (kind: RackKind) => {
    const context = { objects, chosen: [], conventions, ground: setting };
    const made = madeOf({ ...begun("add", context), values: addOf(kind, conventions) }, context);
    if (typeof made === "object" && made.op === "add") onAdd(made);
  };
  return (
    <div className="grid grid-cols-3 gap-1">
      {RACK.map((kind) => (
        <button
          key={kind}
          type="button"
          onClick={() => take(kind)}
          className="rounded-md border border-hairline px-1 pt-1 text-center text-sm hover:bg-well"
        >
          <svg viewBox="0 0 40 32" aria-hidden className="mx-auto h-9 fill-ink-soft">
            {DRAWINGS[kind]}
          </svg>
          {kind}
        </button>
      ))}
    </div>
  );
}
