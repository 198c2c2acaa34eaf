import { describe, expect, it } from "vitest";
import type { Reading as ObjectReading, SceneObject } from "../api/types";
import { FIRST_SENTENCE, type Sentence, withAmount, withAxes, withOnlyAxis } from "../state/sentence";
import {
  nudgeSentence,
  readSentence,
  withAxisInSight,
  withAxisSwitched,
  withKind,
  withMode,
} from "./axisSentence";

const object = (id: string, locked = false) => ({ id, name: id.toUpperCase(), locked }) as SceneObject;
const OBJECTS = [object("crate"), object("lamp"), object("quay", true)];
const CONVENTIONS = { up: "y", handedness: "right", length: "m", angle: "deg", euler: "ZXY" } as const;
const VIEW = { right: [1, 0, 0], up: [0, 0, -1] } as const;
const chosen: Sentence = { ...FIRST_SENTENCE, objects: ["crate"] };
const read = (sentence: Sentence) => readSentence(sentence, OBJECTS, CONVENTIONS, VIEW);
const typed = (sentence: Sentence, ...amounts: string[]) =>
  amounts.reduce((made, text, i) => withAmount(made, i as 0 | 1 | 2, text), sentence);

describe("the step sentence", () => {
  it("says what is missing", () => {
    expect(read({ ...chosen, objects: [] })).toMatchObject({
      why: expect.stringContaining("Select an object"),
    });
    expect(read({ ...chosen, objects: ["quay"] })).toMatchObject({ why: expect.stringContaining("locked") });
    expect(read(chosen)).toMatchObject({ why: expect.stringContaining("along X") });
    expect(read(withAmount(chosen, 0, "two"))).toMatchObject({
      why: "The amount for X cannot be read: “two” is not a number.",
    });
    expect(read(withAmount(withKind(chosen, "scale"), 0, "0"))).toMatchObject({
      why: expect.stringContaining("flatten"),
    });
  });

  it.each([
    [
      typed(withAxes(chosen, [0, 2]), "2.5", "", "-1/2"),
      { op: "move", by: [2.5, 0, -0.5], space: "world" },
      "by 2.5 m along X and −0.5 m along Z of World.",
    ],
    [typed({ ...chosen, mode: "to" }, "3"), { op: "move", to: [3, null, null] }, "to X 3 m of World."],
    [
      typed({ ...withOnlyAxis(withKind(chosen, "rotate"), 1), space: "local" }, "", "75"),
      { op: "rotate", axis: "y", angle: 75, space: "local", pivot: "own" },
      "by 75° about Y of Local through its pivot.",
    ],
    [
      typed({ ...withKind(chosen, "rotate"), mode: "to" }, "10", "20", "30"),
      { op: "rotate", to: [10, 20, 30], space: "world" },
      "to Z 10°, X 20° and Y 30° of World.",
    ],
    [
      typed({ ...withKind(chosen, "scale"), pivot: { object: "crate", at: "-x" } }, "2"),
      { op: "scale", by: [2, 1, 1], space: "local", pivot: { object: "crate", at: "-x" } },
      "by 2 along X of Local holding face −X of CRATE.",
    ],
    [
      typed({ ...withKind(chosen, "scale"), uniform: true }, "1.5"),
      { op: "scale", by: [1.5, 1.5, 1.5] },
      "by 1.5 on all axes holding its pivot.",
    ],
    [
      typed({ ...withKind(chosen, "scale"), keepVolume: true }, "4"),
      { op: "scale", keep_volume: { axis: "x", factor: 4 } },
      "by 4 along X, keeping its volume, of Local holding its pivot.",
    ],
    [
      typed({ ...withKind(chosen, "scale"), mode: "to", uniform: true }, "2"),
      { op: "scale", to: [2, null, null], uniform: true },
      "to X 2 m, uniformly, holding its pivot.",
    ],
    [
      typed({ ...chosen, space: "view" }, "1"),
      { op: "move", by: [1, 0, 0], space: { view: { right: [1, 0, 0], up: [0, 0, -1] } } },
      "by 1 m along X of View.",
    ],
    [
      typed({ ...chosen, objects: ["crate", "lamp"] }, "1"),
      { objects: ["crate", "lamp"] },
      "Enter moves CRATE and LAMP by 1 m",
    ],
  ] as const)("makes the step that it says: %#", (sentence, step, words) => {
    const reading = read(sentence as Sentence);
    expect(reading).toMatchObject({ kind: "ready", step });
    expect(reading.kind === "ready" && reading.words).toContain(words);
  });

  describe("angles to turn to", () => {
    const turn: Sentence = withMode(withKind(chosen, "rotate"), "to");
    const angles = { world: { angles: [1, 2, 3] }, parent: { angles: [4, 5, 6] } };
    const readings = { crate: angles, lamp: angles } as unknown as Record<string, ObjectReading>;
    const asked = (sentence: Sentence) => readSentence(sentence, OBJECTS, CONVENTIONS, VIEW, readings);

    it("what is left empty stays as it is, in the space that they are set in", () => {
      expect(asked(typed(turn, "", "20"))).toMatchObject({
        step: { to: [1, 20, 3], space: "world" },
        words: "Enter rotates CRATE to Z 1°, X 20° and Y 3° of World.",
      });
      expect(asked(typed({ ...turn, space: "parent" }, "", "20"))).toMatchObject({
        step: { to: [4, 20, 6], space: "parent" },
        words: "Enter rotates CRATE to Z 4°, X 20° and Y 6° of Parent.",
      });
    });

    it("in another space than World and Parent nothing is done, and it is said", () => {
      for (const space of ["local", "view", { object: "lamp" }] as const) {
        expect(withMode({ ...withKind(chosen, "rotate"), space }, "to").space).toBe("world");
        expect(asked(typed({ ...turn, space }, "1", "2", "3"))).toMatchObject({
          kind: "not-ready",
          why: expect.stringContaining("World or Parent"),
        });
      }
    });

    it("of several objects all three are asked for", () => {
      const two = { ...turn, objects: ["crate", "lamp"] };
      expect(asked(typed(two, "1", "2"))).toMatchObject({ why: expect.stringContaining("all three") });
      expect(asked(typed(two, "1", "2", "3"))).toMatchObject({ step: { to: [1, 2, 3] } });
    });
  });

  it("speaks of several as several", () => {
    const two = { ...chosen, objects: ["crate", "lamp"] };
    expect(read(two)).toMatchObject({ why: expect.stringContaining("CRATE and LAMP go along X") });
    expect(read(withKind(two, "rotate"))).toMatchObject({
      why: expect.stringContaining("LAMP turn about"),
    });
    expect(read(withMode(two, "to"))).toMatchObject({
      why: expect.stringContaining("position of CRATE and LAMP"),
    });
  });

  it("keeps one axis on at least, and lights one that is on", () => {
    expect(withAxisSwitched(chosen, 0)).toBe(chosen);
    const two = withAxisSwitched(chosen, 2);
    expect([two.axes, two.lit]).toEqual([[true, false, true], 2]);
    expect(withAxisSwitched(two, 2)).toMatchObject({ axes: [true, false, false], lit: 0 });
  });

  it("turns about one axis only", () => {
    const turn = withKind(withAxes(chosen, [0, 1]), "rotate");
    expect(withAxisSwitched(turn, 2)).toMatchObject({ axes: [false, false, true], lit: 2 });
  });

  it("another operation begins without the amounts of the last", () => {
    expect(withKind(typed(chosen, "3"), "scale")).toMatchObject({
      amounts: ["", "", ""],
      mode: "by",
      space: "local",
    });
  });

  it("a nudge is one step size along the lit axis; a scaling and back is as before", () => {
    const sizes = { move: 0.1, rotate: 15, scale: 0.1 };
    expect(read(nudgeSentence({ sentence: withOnlyAxis(chosen, 2), sizes }, -1))).toMatchObject({
      step: { by: [0, 0, -0.1] },
    });
    const scale = withKind(chosen, "scale");
    const [grown, shrunk] = ([1, -1] as const).map((way) =>
      read(nudgeSentence({ sentence: scale, sizes }, way)),
    );
    const factor = (reading: typeof grown) => (reading as { step: { by: number[] } }).step.by[0]!;
    expect(factor(grown) * factor(shrunk)).toBeCloseTo(1, 12);
  });
});

it("In a view along the lit axis another is lit, unless something is typed or it turns about it", () => {
  const alongX = [false, true, true];
  const onX = withOnlyAxis(chosen, 0);
  expect(withAxisInSight(onX, alongX)).toMatchObject({ axes: [false, true, false], lit: 1 });
  const onXZ = { ...onX, axes: [true, false, true] as [boolean, boolean, boolean] };
  expect(withAxisInSight(onXZ, alongX)).toMatchObject({ axes: [false, false, true], lit: 2 });
  for (const kept of [withOnlyAxis(chosen, 1), typed(onX, "2"), withKind(onX, "rotate")])
    expect(withAxisInSight(kept, alongX)).toBe(kept);
});
