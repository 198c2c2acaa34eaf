// What a remark is on, in words and as a choice. Pure.
import type { RemarkPlace, RemarkView, Result } from "../api/types";
import type { Stand } from "../view3d/camera";

const WHOLE = "the whole submission";

type Named = { value: string; text: string; place: RemarkPlace };

/** What a remark can be on: the whole, a check, an object or a step. */
export function placesIn(result: Result): Named[] {
  const nothing = { check: null, object: null, step: null, view: null };
  return [
    { value: "whole", text: WHOLE, place: nothing },
    ...result.report.checks.map((check) => ({
      value: `check ${check.id}`,
      text: `check: ${check.label}`,
      place: { ...nothing, check: check.id },
    })),
    ...objectsIn(result).map(({ id, name }) => ({
      value: `object ${id}`,
      text: `object: ${name}`,
      place: { ...nothing, object: id },
    })),
    ...result.steps.map((step, i) => ({
      value: `step ${i + 1}`,
      text: `step ${i + 1}: ${step.sentence}`,
      place: { ...nothing, step: i + 1 },
    })),
  ];
}

function objectsIn(result: Result): { id: string; name: string }[] {
  const names = new Map(result.exercise.objects.map((item) => [item.id, item.name]));
  return Object.keys(result.placed).map((id) => ({ id, name: names.get(id) ?? result.in_file[id] ?? id }));
}

/** What a remark is on, in words. */
export function placeWords(place: RemarkPlace, result: Result): string {
  const same = placesIn(result).find(
    (each) =>
      each.place.check === place.check &&
      each.place.object === place.object &&
      each.place.step === place.step,
  );
  return `On ${same?.text ?? "a check"}`;
}

/** A view as it is kept. */
export function viewOf(step: number, stand: Stand | null): RemarkView {
  return {
    step,
    eye: stand && [...stand.eye_world],
    middle: stand && [...stand.middle_world],
  };
}

/** Where a remark was written from, if that is known. */
export function standOf({ view }: RemarkPlace): Stand | null {
  return view?.eye && view.middle ? { eye_world: view.eye, middle_world: view.middle } : null;
}
