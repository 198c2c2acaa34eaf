import { expect, it } from "vitest";
import type { SceneObject, StepView } from "../api/types";
import { objectsAfter } from "./objects";

type Change = StepView["objects"][number];
const MESH = { kind: "mesh", vertices: [], triangles: [] };
const object = (id: string, more: object = {}) =>
  ({ id, name: id, solid: null, local_box: null, ...more }) as unknown as SceneObject;
const change = (id: string, more: object = {}) => ({ ...object(id), solid_of: null, ...more }) as Change;
const hull = object("hull", { solid: MESH, local_box: "box" });
const before = [object("quay"), hull, object("mast")];

it("keeps the very same list where a step changes places alone", () => {
  expect(objectsAfter(before, { objects: [], gone: [] })).toBe(before);
});

it("removes what is gone, changes in place, and puts what is new at the end", () => {
  const after = objectsAfter(before, {
    objects: [change("mast", { name: "Main mast" }), change("buoy")],
    gone: ["quay"],
  });
  expect(after.map(({ id, name }) => [id, name])).toEqual([
    ["hull", "hull"],
    ["mast", "Main mast"],
    ["buoy", "buoy"],
  ]);
  expect(after[2]).not.toHaveProperty("solid_of");
});

it("takes a mesh that is named from what was there before, even where that is gone", () => {
  const after = objectsAfter(before, {
    objects: [change("hull", { name: "Red hull", solid_of: "hull" }), change("copy", { solid_of: "hull" })],
    gone: [],
  });
  expect(after.map(({ id, solid, local_box }) => [id, solid, local_box])).toEqual([
    ["quay", null, null],
    ["hull", MESH, "box"],
    ["mast", null, null],
    ["copy", MESH, "box"],
  ]);
  const copyAlone = objectsAfter(before, { objects: [change("copy", { solid_of: "hull" })], gone: ["hull"] });
  expect(copyAlone.at(-1)!.solid).toBe(MESH);
});
