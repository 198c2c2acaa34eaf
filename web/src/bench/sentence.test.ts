import { describe, expect, it } from "vitest";
import type { SceneObject } from "../api/types";
import {
  FIRST_SENTENCE,
  readSentence,
  type Sentence,
  withAmount,
  withAxes,
  withAxisSwitched,
  withOnlyAxis,
} from "./sentence";

const object = (id: string, locked = false) => ({ id, name: id.toUpperCase(), locked }) as SceneObject;
const OBJECTS = [object("crate"), object("quay", true)];
const chosen: Sentence = { ...FIRST_SENTENCE, object: "crate" };
const read = (sentence: Sentence) => readSentence(sentence, OBJECTS, "m");

describe("the step sentence", () => {
  it("says what is missing", () => {
    expect(read({ ...chosen, object: null })).toMatchObject({
      why: expect.stringContaining("Choose an object"),
    });
    expect(read({ ...chosen, object: "quay" })).toMatchObject({ why: expect.stringContaining("locked") });
    expect(read(chosen)).toMatchObject({ why: expect.stringContaining("along X") });
    expect(read(withAmount(chosen, 0, "two"))).toMatchObject({
      why: expect.stringContaining("not a number"),
    });
  });

  it("makes the step that it says", () => {
    expect(read(withAmount(chosen, 0, "-3/2"))).toEqual({
      kind: "ready",
      words: "Enter moves CRATE by −1.5 m along X of World.",
      step: { op: "move", objects: ["crate"], space: "world", by: [-1.5, 0, 0], entry: "typed" },
    });
  });

  it("leaves what is blank as it is", () => {
    const two = withAmount({ ...withAxes(chosen, [0, 2]), mode: "to", space: "local" }, 2, "4");
    expect(read(two)).toMatchObject({ step: { space: "local", to: [null, null, 4] } });
  });

  it("does not read the amount of an axis that is off", () => {
    const hidden = withOnlyAxis(withAmount(chosen, 0, "7"), 1);
    expect(read(hidden)).toMatchObject({ kind: "not-ready", why: expect.stringContaining("along Y") });
  });

  it("always has one axis on, and lights one that is", () => {
    expect(withAxisSwitched(chosen, 0)).toBe(chosen);
    const two = withAxisSwitched(chosen, 2);
    expect([two.axes, two.lit]).toEqual([[true, false, true], 2]);
    expect(withAxisSwitched(two, 2)).toMatchObject({ axes: [true, false, false], lit: 0 });
    expect(withAxisSwitched(two, 0)).toMatchObject({ axes: [false, false, true], lit: 2 });
  });
});
