import { describe, expect, it } from "vitest";
import cases from "../../../tests/fixtures/steps.json";
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

// Source: international yard and pound agreement (1959), 1 in = 25.4 mm; SI Brochure (2019), 1° = π/180 rad.
const METRES = { mm: 0.001, cm: 0.01, m: 1, in: 0.0254, ft: 0.3048 } as const;
const RADIANS = { deg: Math.PI / 180, rad: 1, turn: 2 * Math.PI } as const;
const LETTERS = ["XYZ", "XZY", "YXZ", "YZX", "ZXY", "ZYX", "XYX", "XZX", "YXY", "YZY", "ZXZ", "ZYZ"] as const;
const ORDERS = LETTERS.flatMap((order) => [order, order.toLowerCase() as Lowercase<typeof order>]);
const pairs = <Unit extends string>(units: Record<Unit, number>) =>
  (Object.keys(units) as Unit[]).flatMap((own) =>
    (Object.keys(units) as Unit[]).map((typed) => [own, typed] as const),
  );

function stepOf(line: string, conventions: Parameters<typeof parseLine>[2] = CONVENTIONS) {
  const parsed = parseLine(line, OBJECTS, conventions);
  if (parsed.kind !== "sentence") return parsed.why;
  const reading = readSentence(parsed.sentence, OBJECTS, conventions, { right: [1, 0, 0], up: [0, 1, 0] });
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
    // Other units are converted, arithmetic and exponents are read whole.
    ["move rope crate by 50 cm along x", { by: [0.5, 0, 0] }],
    ["move rope crate by 1 ft along z", { by: [0, 0, 0.3048] }],
    ["rotate lock gate by 0.5 turn about y", { angle: 180 }],
    ["rotate lock gate by 1 turn about y", { angle: 360 }],
    ["rotate lock gate by 3.14159265358979 rad about y", { angle: 180 }],
    ["move rope crate by 1e3 along x", { by: [1000, 0, 0] }],
    ["move rope crate by 0,5 along x", { by: [0.5, 0, 0] }],
    ["move rope crate by .5 along x", { by: [0.5, 0, 0] }],
    ["move rope crate by 1 x, 2 y and 3 z", { by: [1, 2, 3] }],
    ["move rope crate to x 1, y 2", { to: [1, 2, null] }],
    [
      "scale rope crate by 2 along y, keeping its volume, of local",
      { keep_volume: { axis: "y", factor: 2 }, space: "local" },
    ],
    ["scale rope crate by 2 along y keeping its volume", { keep_volume: { axis: "y", factor: 2 } }],
    ["scale rope crate to 2 m along x, the rest alike", { to: [2, null, null], uniform: true }],
    ["scale rope crate to 200 cm along x", { to: [2, null, null] }],
  ])("%s", (line, step) => {
    expect(stepOf(line)).toMatchObject(step);
  });

  it.each(pairs(METRES))(
    "in an exercise in %s a length in %s is converted to the last digit",
    (length, typed) => {
      const own = { ...CONVENTIONS, length };
      const wanted = expect.closeTo((1.23456789012 * METRES[typed]) / METRES[length], 10);
      for (const line of [
        `move rope crate by 1.23456789012 ${typed} along y`,
        `move rope crate by 1.23456789012 ${typed} y of local`,
        `move rope crate by y 1.23456789012 ${typed} in local`,
      ])
        expect(stepOf(line, own), line).toMatchObject({ op: "move", by: [0, wanted, 0] });
      expect(stepOf(`scale rope crate to 1.23456789012 ${typed} along y`, own)).toMatchObject({
        to: [null, wanted, null],
      });
      expect(stepOf(`move rope crate to y 1.23456789012 ${typed}`, own)).toMatchObject({
        to: [null, wanted, null],
      });
    },
  );

  it.each(pairs(RADIANS))(
    "in an exercise in %s an angle in %s is converted to the last digit",
    (angle, typed) => {
      const own = { ...CONVENTIONS, angle };
      const wanted = expect.closeTo((0.123456789012 * RADIANS[typed]) / RADIANS[angle], 10);
      expect(stepOf(`rotate lock gate by 0.123456789012 ${typed} about y`, own)).toMatchObject({
        angle: wanted,
      });
      expect(
        stepOf(`rotate lock gate to x 0, y 0.123456789012 ${typed} and z 0 of parent`, own),
      ).toMatchObject({
        to: [0, wanted, 0],
      });
    },
  );

  it.each(ORDERS)("the angles of order %s are read in their places, two of one letter too", (euler) => {
    const [a, b, c] = euler.toUpperCase();
    expect(
      stepOf(`Rotate Lock gate to ${a} 10°, ${b} −20° and ${c} 0.1 turn of World`, { ...CONVENTIONS, euler }),
    ).toEqual(expect.objectContaining({ op: "rotate", to: [10, -20, 36], space: "world" }));
  });

  it.each([
    // What each of these was once taken for stands behind it.
    ["move rope crate by 50 furlong along x", "“furlong”"], // 50 m
    ["rotate lock gate by 5 gon about y", "“gon”"], // 5°
    ["scale rope crate by 2 m along x", "“m” on: a factor has no unit"], // 2
    ["move rope crate by 1,000 along x", "From “1,000 along x”"], // 1
    ["move rope crate by 2 x quickly", "From “quickly” on"],
    ["move rope crate by 2 along x of local please", "From “local please” on"],
    ["move rope crate by 2 along x through the origin", "goes through no pivot"],
    ["rotate lock gate by 75 about y, gently", "gently"],
    ["rotate lock gate by 75 about yz", "about yz"],
    ["move rope crate by 2 along x and 3 along x", "amount already"],
    ["move rope crate by 2 3 along x", "an axis comes after"],
    ["move rope crate slowly by 2 x", "From “slowly by 2 x” on: say by or to"],
    ["scale rope crate by 2 on some axes", "on some axes"],
    ["rotate lock gate to x 10 of local", "From “local” on"],
  ])("%s: is refused with its place", (line, place) => {
    expect(stepOf(line)).toContain(place);
  });

  it("noise is read whole, every word of it, or refused with a reason", () => {
    let state = 11;
    const next = (n: number) => {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
      return Math.floor((state / 2 ** 32) * n);
    };
    const words = [
      "move", "rotate", "scale", "rope crate", "lock gate", "by", "to", "2", "-1.5", "0,5", "1,000", "1e3", "cm", "°", "turn",
      "along", "about", "x", "y", "z", "of", "local", "world", "through", "its pivot", "and", ",", "keeping its volume", "oops",
    ]; // biome-ignore format: words
    let sentences = 0;
    for (let i = 0; i < 20_000; i++) {
      const start = ["move rope crate by", "rotate lock gate by", "scale rope crate by", ""][next(4)]!;
      const line = [start, ...Array.from({ length: 1 + next(6) }, () => words[next(words.length)]!)].join(
        " ",
      );
      const parsed = parseLine(line, OBJECTS, CONVENTIONS);
      if (parsed.kind === "not-yet") {
        expect(parsed.why).toMatch(/\.$/);
        continue;
      }
      sentences++;
      // Nothing that was typed is passed over: each number and each name of an axis is in the sentence once.
      expect(line).not.toContain("oops");
      if (/cm|turn/.test(line)) continue; // converted, and so written otherwise
      const typed = (line.match(/-1\.5|1e3|0,5|\b2\b/g) ?? []).sort();
      const taken = parsed.sentence.amounts.join(" ").match(/-1\.5|1e3|0,5|\b2\b/g) ?? [];
      expect([...taken].sort()).toEqual(typed);
    }
    expect(sentences).toBeGreaterThan(200);
  });

  it.each([
    ["lift rope crate", "Begin with move"],
    ["move the barge by 2 x", "Name an object"],
    ["move rope crate 2 x", "by or to"],
    ["move rope crate by much", "say an amount"],
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

type Case = { objects: { id: string }[]; conventions: typeof CONVENTIONS; sentence: string; step: object };

// What the line cannot say yet: lines and directions of one's own, typed points, a point that is taken.
const BEYOND = / of the line | about \(| through \(| holding \(|, taken at /;

/** What a step says, each number to the six figures of a sentence. */
function saysOf(step: object): unknown {
  const said: Record<string, unknown> = { pivot: "own", uniform: false, ...step };
  said.space ??= said.op === "scale" ? "local" : "world"; // what holds where nothing is said
  if (said.op === "scale" && said.to) delete said.space;
  delete said.entry;
  return JSON.parse(
    JSON.stringify(said, (key, value) => {
      if (key === "space" && typeof value === "object" && "view" in value) return "view";
      return typeof value === "number" ? Number(value.toPrecision(6)) : value;
    }),
  );
}

describe("a sentence of the core, typed as it stands", () => {
  it("is the same step again, whatever its operation, space, pivot, unit and order", () => {
    const refused: string[] = [];
    for (const { objects, conventions, sentence, step } of cases as unknown as Case[]) {
      const known = objects.map(({ id }) => object(id, id));
      const parsed = parseLine(sentence, known, conventions);
      if (parsed.kind === "not-yet") {
        expect(sentence, parsed.why).toMatch(BEYOND);
        refused.push(sentence);
        continue;
      }
      expect(sentence).not.toMatch(BEYOND);
      const reading = readSentence(parsed.sentence, known, conventions, { right: [1, 0, 0], up: [0, 1, 0] });
      expect(reading, sentence).toMatchObject({ kind: "ready" });
      expect(saysOf((reading as { step: object }).step), sentence).toEqual(saysOf(step));
    }
    expect(refused.length).toBeLessThan(cases.length / 2);
  });
});
