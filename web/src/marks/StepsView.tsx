// A way as it stands after some of its steps, with the target as a dashed outline.
import type { ReactNode } from "react";
import type { Exercise } from "../api/types";
import type { Stand } from "../view3d/camera";
import { useShapes } from "../view3d/context";
import { SceneView } from "../view3d/SceneView";
import type { Shown } from "./scene";

const FIT = { what: "work", turn: 0 } as const;

type Props = {
  exercise: Exercise;
  shown: Shown;
  passing: ReadonlySet<string>;
  lit: ReadonlySet<string>;
  chosen: readonly string[];
  name: string;
  stand?: Stand | null;
  onStand?: (stand: Stand) => void;
  children?: ReactNode;
};

export function StepsView({ exercise, shown, passing, lit, chosen, name, children, ...seen }: Props) {
  const shapes = useShapes(shown.objects, exercise.conventions.up);
  return (
    <div className="relative min-h-0 flex-1 border-b border-hairline cramped:min-h-[max(14rem,60vh)]">
      <SceneView
        exercise={exercise}
        objects={shown.objects}
        poses={shown.poses}
        shapes={shapes}
        chosen={chosen}
        passing={passing}
        lit={lit}
        fit={FIT}
        {...seen}
        label={`${name || "The submission"}, with the target as a dashed outline`}
      >
        {children}
      </SceneView>
      {name && (
        <p className="absolute top-2 left-2 rounded-sm bg-sheet/85 px-1.5 text-sm font-semibold">{name}</p>
      )}
    </div>
  );
}
