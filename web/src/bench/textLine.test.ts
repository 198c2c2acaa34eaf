import { describe, expect, it } from "vitest";
import type { SceneObject } from "../api/types";
import { readSentence } from "./sentence";
import { completions, parseLine } from "./textLine";

const object = (id: string, name: string) => ({ id, name, locked: false }) as SceneObject;
const OBJECTS = [
  object("gate", "Lock gate"),
  object("crate", "Rope crate"),
  object("crate-b", "Rope crate b"),
];
const CONVENTIONS = { up: "y", handedness: "right", length: "m", angle: "deg", euler: "XYZ" } as const;

function stepOf(line: string) {
  const parsed = parseLine(line, OBJECTS);
  if (parsed.kind !== "sentence") return parsed.why;
  const reading = readSentence(parsed.sentence, OBJECTS, CONVENTIONS, { right: [1, 0, 0], up: [0, 1, 0] });
  return reading.kind === "ready" ? reading.step : reading.why;
}

describe("the sentence as text", () => {
  it.each([
    ["move rope crate by 2 along x", { op: "move", objects: ["crate"], by: [2, 0, 0], space: "world" }],
    [
      "Move  the Rope crate B by -1.5 m along X and 2*3 along z of Local.",
      { objects: ["crate-b"], by: [-1.5, 0, 6], space: "local" },
    ],
    ["move lock gate, rope crate by 1 y", { objects: ["gate", "crate"], by: [0, 1, 0] }],
    [
      "Rotate Lock gate by 75° about Y of Local through edge middle −X−Z of Lock gate",
      { angle: 75, axis: "y", space: "local", pivot: { object: "gate", at: "-x-z" } },
    ],
    [
      "scale lock gate by 2 on all axes holding corner -z −x +y",
      { by: [2, 2, 2], pivot: { object: "gate", at: "-x+y-z" } },
    ],
    [
      "rotate rope crate by 5 about z of world through the pivot of lock gate",
      { space: "world", pivot: { object: "gate", at: "pivot" } },
    ],
    ["move rope crate to x −3 and z 0.5 of parent", { to: [-3, null, 0.5], space: "parent" }],
    [
      "rotate lock gate by 75 about y of local through its pivot",
      { op: "rotate", axis: "y", angle: 75, space: "local", pivot: "own" },
    ],
    [
      "turn lock gate by 360/8° about Z through the origin",
      { op: "rotate", axis: "z", angle: 45, pivot: "origin" },
    ],
    ["rotate lock gate by 10 about x of the axes of rope crate", { space: { object: "crate" } }],
    ["scale rope crate by 2", { op: "scale", by: [2, 2, 2] }],
    [
      "scale rope crate by 1.5 along y of local holding the marker",
      { by: [1, 1.5, 1], space: "local", pivot: "marker" },
    ],
  ])("%s", (line, step) => {
    expect(stepOf(line)).toMatchObject(step);
  });

  it.each([
    ["lift rope crate", "Begin with move"],
    ["move the barge by 2 x", "Name an object"],
    ["move rope crate 2 x", "by or to"],
    ["move rope crate by much", "Say an amount"],
    ["rotate lock gate by 75", "about"],
    ["move rope crate by 2 x of nowhere", "comes world"],
    ["scale rope crate by 2 holding its breath", "pivot"],
  ])("%s: says what is missing", (line, why) => {
    expect(stepOf(line)).toContain(why);
  });

  it("offers what could come next", () => {
    expect(completions("ro", OBJECTS)).toEqual(["rotate "]);
    expect(completions("move rope", OBJECTS)).toEqual(["move Rope crate ", "move Rope crate b "]);
    expect(completions("move lock gate ", OBJECTS)).toEqual(["move lock gate by ", "move lock gate to "]);
    expect(completions("rotate lock gate by 5", OBJECTS)).toContain("rotate lock gate by 5 about y");
  });
});
