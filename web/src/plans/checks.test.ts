import { expect, it } from "vitest";
import type { Check, SceneObject } from "../api/types";
import { RELATIONS, RULES, withAxes, withOwnTolerances, withRelation, withRule, withWay } from "./checks";

type Of<K extends Check["kind"]> = Extract<Check, { kind: K }>;
const BASE = { points: 2, zero_at: 3 };
const TYPED: Of<"process"> = { ...BASE, id: "way", kind: "process", rule: "typed", declared: false };
const keysOf = <T extends object>(record: T) => Object.keys(record) as (keyof T)[];

it("gives each rule of the way what the core asks of it, from whichever rule it comes", () => {
  const needs = { typed: [], multiple: ["of"], uses: ["op"], avoids: ["op"], at_most: ["steps"] };
  for (const from of keysOf(RULES))
    for (const to of keysOf(RULES).filter((rule) => rule !== from)) {
      const { id, kind, points, zero_at, rule, declared, ...own } = withRule(withRule(TYPED, from), to);
      expect({ id, points, zero_at, rule }).toEqual({ id: "way", ...BASE, rule: to });
      expect(Object.keys(own)).toEqual(needs[to]);
    }
});

it("keeps what two rules share, and the last part of the way that is said", () => {
  const uses = withWay(withRule({ ...TYPED, object: "crate" }, "uses"), "space", "local");
  expect(withRule(uses, "avoids")).toMatchObject({ object: "crate", op: "move", space: "local" });
  const spaceAlone = withWay(uses, "op", null);
  expect(spaceAlone).not.toHaveProperty("op");
  expect(withWay(spaceAlone, "space", null)).toBe(spaceAlone);
});

const OBJECTS = ["crate", "lamp", "mast", "pier"].map((id) => ({ id }) as SceneObject);
const RESTS: Of<"relation"> = {
  ...{ ...BASE, id: "stands", kind: "relation", object: "lamp", tolerance: 0.02, space: "parent" },
  ...{ relation: "rests_on", other: "ground", stable: true },
};

it("gives each relation what the core asks of it, from whichever relation it comes", () => {
  const needs = {
    ...{ rests_on: ["other"], touches: ["other"], gap: ["distance", "other"], clear_of: ["other"] },
    ...{
      centred_on: ["other"],
      flush: ["other", "side"],
      faces: ["axis", "other"],
      row: [],
      inside_plot: [],
    },
  };
  for (const from of keysOf(RELATIONS))
    for (const to of keysOf(RELATIONS).filter((relation) => relation !== from)) {
      const next = withRelation(withRelation(RESTS, from, OBJECTS), to, OBJECTS);
      const { id, kind, points, zero_at, tolerance, space, relation, object, stable, ...own } = next;
      expect({ points, zero_at, tolerance, space, relation, stable }).toEqual({
        ...{ ...BASE, tolerance: 0.02, space: "parent", relation: to, stable: false },
      });
      expect(Object.keys(own).sort(), `${from} → ${to}`).toEqual(needs[to]);
      if (to !== "rests_on") expect(own.other).not.toBe("ground");
      expect(object).toEqual(to === "row" ? ["lamp", "crate", "mast"] : "lamp");
      expect([object].flat()).not.toContain(own.other);
    }
});

it("gives each axis its own tolerance, kept when other axes are compared, and one for all again", () => {
  const place: Of<"position"> = {
    ...{ ...BASE, id: "place", kind: "position", object: "crate", tolerance: 0.1 },
    ...{ point: "pivot", space: "world", axes: "xyz", measure: "each" },
  };
  const own = { ...withOwnTolerances(place, true), tolerance: [0.1, 0.2, 0.3] };
  expect(withOwnTolerances(place, true).tolerance).toEqual([0.1, 0.1, 0.1]);
  expect(withAxes(own, "yz").tolerance).toEqual([0.2, 0.3]);
  expect(withAxes(withAxes(own, "y"), "xy").tolerance).toEqual([0.2, 0.2]);
  expect(withAxes(place, "x").tolerance).toBe(0.1);
  expect(withOwnTolerances(own, false).tolerance).toBe(0.3);
});
