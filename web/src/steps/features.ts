// Named places on an object's box: faces, edge middles, corners, as the files name them. Pure.
import type { Box, Point, SceneObject } from "../api/types";
import { each, type Vec3 } from "../view3d/matrices";

const SIGNS = [-1, 0, 1] as const;

/** All 27: the centre, 6 faces, 12 edge middles, 8 corners, in this order. */
export const PLACES: readonly string[] = SIGNS.flatMap((x) =>
  SIGNS.flatMap((y) => SIGNS.map((z) => [x, y, z] as const)),
)
  .sort((a, b) => many(a) - many(b))
  .map(nameOf);

function many(signs: readonly number[]): number {
  return signs.filter((sign) => sign !== 0).length;
}

function nameOf(signs: readonly number[]): string {
  const name = signs.map((sign, i) => (sign === 0 ? "" : `${sign > 0 ? "+" : "-"}${"xyz"[i]}`)).join("");
  return name || "centre";
}

/** Where a named place is in the object's own coordinates; `null` where it has no box of its own. */
export function placeLocal(item: Pick<SceneObject, "pivot" | "local_box">, at: string): Vec3 | null {
  if (at === "pivot") return item.pivot;
  return item.local_box && onBox(item.local_box, at);
}

function onBox({ least, most }: Box, at: string): Vec3 {
  const sign = (i: number) => (at.includes(`+${"xyz"[i]}`) ? 1 : at.includes(`-${"xyz"[i]}`) ? -1 : 0);
  return each((i) => (least[i] + most[i]) / 2 + (sign(i) * (most[i] - least[i])) / 2);
}

/** A place as people say it: "corner +X−Y+Z". */
export function placeWords(at: string): string {
  if (at === "pivot" || at === "centre") return at;
  const kind = ["face", "edge middle", "corner"][at.length / 2 - 1];
  return `${kind} ${at.replaceAll("-", "−").toUpperCase()}`;
}

/** A point as people say it. */
export function pointWords(point: Point, objects: readonly SceneObject[]): string {
  if ("object" in point) {
    const name = objects.find((item) => item.id === point.object)?.name ?? point.object;
    return `${placeWords(point.at)} of ${name}`;
  }
  return `(${point.join("; ")})`;
}

/** The two ends of the edge whose middle this is. */
export function edgeEnds(at: string): [string, string] {
  const missing = "xyz".split("").find((axis) => !at.includes(axis))!;
  const withSign = (sign: string) =>
    "xyz"
      .split("")
      .map((axis) => (axis === missing ? sign + axis : at.slice(at.indexOf(axis) - 1, at.indexOf(axis) + 1)))
      .join("");
  return [withSign("-"), withSign("+")];
}
