// The cards beside the view: the brief and what there is, what is missing and the numbers.
import { memo, useMemo } from "react";
import type { Exercise, SceneObject, SceneState, Step } from "../api/types";
import { useBench } from "../state/store";
import type { Setting } from "../steps/setting";
import { nth } from "../ui/lists";
import { type Tab, TabCard } from "../ui/TabCard";
import type { Choices, Work } from "./draft";
import { GapCard } from "./GapCard";
import { type AskMeasures, MeasureCard } from "./MeasureCard";
import { NumbersCard } from "./NumbersCard";
import { ObjectList, type Props as ObjectListProps } from "./ObjectList";

type AboutProps = {
  about: readonly Tab[];
  objects: readonly SceneObject[];
  onChoose: (ids: readonly string[]) => void;
  onNest: ObjectListProps["onNest"];
};

export const AboutAndObjects = memo(function AboutAndObjects({ about, ...list }: AboutProps) {
  const chosen = useBench((state) => state.sentence.objects);
  return (
    <TabCard
      label={`${nth(about, 0).name} and objects`}
      className="min-h-0 flex-1 cramped:max-h-80"
      tabs={[...about, { name: "Objects", body: <ObjectList {...list} chosen={chosen} /> }]}
    />
  );
});

type CardProps = {
  exercise: Exercise;
  state: SceneState;
  setting: Setting;
  item: SceneObject | undefined;
  beside: Tab | undefined;
  work: Work;
  measures: AskMeasures;
  onMatch: (matches: Choices) => void;
  onChoose: (ids: readonly string[]) => void;
  onSteps: (steps: readonly Step[]) => void;
};

export function GapsAndNumbers(props: CardProps) {
  const { exercise, state, setting, item, beside, work, measures, onMatch, onChoose, onSteps } = props;
  const known = useMemo(
    () => new Set(exercise.target_objects.map((object) => object.id)),
    [exercise.target_objects],
  );
  const numbers = (
    <NumbersCard
      item={item}
      reading={item && state.readings[item.id]}
      world_from_local={item && setting.poses[item.id]?.world_from_local}
      conventions={exercise.conventions}
      onSteps={onSteps}
    />
  );
  const gaps = exercise.gaps_shown ? (
    <GapCard
      gaps={state.gaps}
      matches={state.matches}
      objects={setting.objects}
      known={known}
      byHand={work.matches}
      chosen={item?.id ?? null}
      onChoose={(id) => onChoose([id])}
      onMatch={onMatch}
    />
  ) : (
    <p className="text-ink-soft">In this exercise you see the gaps after you submit.</p>
  );
  return (
    <TabCard
      label={beside ? `${beside.name} and numbers` : "Gaps and numbers"}
      className="max-h-[55%] min-h-40 shrink-0 cramped:max-h-80"
      tabs={[
        beside ?? { name: "Gap", body: gaps },
        { name: "Numbers", body: numbers },
        ...(exercise.measuring
          ? [
              {
                name: "Measure",
                body: (
                  <MeasureCard
                    ask={measures}
                    work={work}
                    objects={setting.objects}
                    conventions={exercise.conventions}
                  />
                ),
              },
            ]
          : []),
      ]}
    />
  );
}
