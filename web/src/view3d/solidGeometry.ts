// A solid's shape for drawing, in its own coordinates, standing along the up axis.
import {
  BoxGeometry,
  BufferGeometry,
  ConeGeometry,
  CylinderGeometry,
  EdgesGeometry,
  Float32BufferAttribute,
  LatheGeometry,
  SphereGeometry,
  TorusGeometry,
  Vector2,
} from "three";
import type { Solid } from "../api/types";
import { nth } from "../ui/lists";

export type Up = "y" | "z";

const SIDES = 40; // round enough that a crate-sized solid shows no corners
const CREASE_DEGREES = 30; // sides of a round solid meet at 9°, edges of the others at 45° or more

export function solidGeometry(solid: Solid, up: Up): BufferGeometry {
  switch (solid.kind) {
    case "cuboid":
      return new BoxGeometry(...solid.size);
    case "plate":
      return up === "y"
        ? new BoxGeometry(solid.size[0], 0, solid.size[1])
        : new BoxGeometry(...solid.size, 0);
    case "wedge":
      return flatSided(solid.size, up, WEDGE);
    case "pyramid":
      return flatSided(solid.size, up, PYRAMID);
    case "sphere":
      return upright(new SphereGeometry(solid.diameter / 2, SIDES, SIDES / 2), up);
    case "cylinder":
      return upright(new CylinderGeometry(solid.diameter / 2, solid.diameter / 2, solid.height, SIDES), up);
    case "cone":
      return upright(new ConeGeometry(solid.diameter / 2, solid.height, SIDES), up);
    case "tube":
      return upright(tube(solid.diameter / 2, solid.bore / 2, solid.height / 2), up);
    case "ring":
      return upright(ring(solid.diameter, solid.thickness), up);
    case "mesh":
      return triangles(solid.triangles.flatMap((triangle) => triangle.map((i) => nth(solid.vertices, i))));
  }
}

export function edgesOf(geometry: BufferGeometry): BufferGeometry {
  return new EdgesGeometry(geometry, CREASE_DEGREES);
}

/** The lines that the target is drawn with: edges, and for round solids enough circles to tell their shape. */
export function outlineOf(solid: Solid, faces: BufferGeometry, up: Up): BufferGeometry {
  switch (solid.kind) {
    case "sphere":
      return upright(lines([0, 1, 2].flatMap((axis) => circle(solid.diameter / 2, axis, 0))), up);
    case "cylinder":
    case "tube": {
      const [r, h] = [solid.diameter / 2, solid.height / 2];
      const inner =
        solid.kind === "tube" ? [...circle(solid.bore / 2, 1, h), ...circle(solid.bore / 2, 1, -h)] : [];
      return upright(lines([...circle(r, 1, h), ...circle(r, 1, -h), ...inner, ...sides(r, r, h)]), up);
    }
    case "cone":
      return upright(
        lines([
          ...circle(solid.diameter / 2, 1, -solid.height / 2),
          ...sides(solid.diameter / 2, 0, solid.height / 2),
        ]),
        up,
      );
    case "ring": {
      const [outer, t] = [solid.diameter / 2, solid.thickness / 2];
      const radii = [
        [outer, 0],
        [outer - 2 * t, 0],
        [outer - t, t],
        [outer - t, -t],
      ] as const;
      return upright(lines(radii.flatMap(([r, height]) => circle(r, 1, height))), up);
    }
    default: {
      const edges = edgesOf(faces);
      // A mesh that is round all over has no crease, and is to be seen all the same.
      return edges.getAttribute("position").count > 0 ? edges : new EdgesGeometry(faces, 1);
    }
  }
}

type Place = readonly [number, number, number];

/** A circle about an axis (0, 1, 2 for X, Y, Z) at a height along it, as pairs of points. */
function circle(radius: number, axis: number, height: number): Place[] {
  const point = (i: number): Place => {
    const angle = (2 * Math.PI * i) / SIDES;
    const [first, second] = [radius * Math.cos(angle), radius * Math.sin(angle)];
    return axis === 0
      ? [height, first, second]
      : axis === 1
        ? [first, height, second]
        : [first, second, height];
  };
  return Array.from({ length: SIDES }, (_, i) => [point(i), point(i + 1)]).flat();
}

/** Four straight lines from the lower rim to the upper one. */
function sides(lower: number, upper: number, half: number): Place[] {
  const around = [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ] as const;
  return around.flatMap(([x, z]): Place[] => [
    [x * lower, -half, z * lower],
    [x * upper, half, z * upper],
  ]);
}

function lines(points: Place[]): BufferGeometry {
  return new BufferGeometry().setAttribute("position", new Float32BufferAttribute(points.flat(), 3));
}

type Corner = readonly [number, number, number]; // signs along X, up and the third axis
type Faces = readonly (readonly [Corner, Corner, Corner])[];

const WEDGE: Faces = [
  [
    [-1, -1, -1],
    [1, -1, -1],
    [1, -1, 1],
  ],
  [
    [-1, -1, -1],
    [1, -1, 1],
    [-1, -1, 1],
  ],
  [
    [-1, -1, -1],
    [-1, -1, 1],
    [-1, 1, 1],
  ],
  [
    [-1, -1, -1],
    [-1, 1, 1],
    [-1, 1, -1],
  ],
  [
    [1, -1, -1],
    [-1, 1, -1],
    [-1, 1, 1],
  ],
  [
    [1, -1, -1],
    [-1, 1, 1],
    [1, -1, 1],
  ],
  [
    [-1, -1, 1],
    [1, -1, 1],
    [-1, 1, 1],
  ],
  [
    [-1, -1, -1],
    [-1, 1, -1],
    [1, -1, -1],
  ],
];

const PYRAMID: Faces = [
  [
    [-1, -1, -1],
    [1, -1, -1],
    [1, -1, 1],
  ],
  [
    [-1, -1, -1],
    [1, -1, 1],
    [-1, -1, 1],
  ],
  [
    [-1, -1, 1],
    [1, -1, 1],
    [0, 1, 0],
  ],
  [
    [1, -1, 1],
    [1, -1, -1],
    [0, 1, 0],
  ],
  [
    [1, -1, -1],
    [-1, -1, -1],
    [0, 1, 0],
  ],
  [
    [-1, -1, -1],
    [-1, -1, 1],
    [0, 1, 0],
  ],
];

function flatSided(size: readonly [number, number, number], up: Up, faces: Faces): BufferGeometry {
  const place = ([x, u, third]: Corner): Corner => {
    const [a, b, c] = up === "y" ? [x, u, third] : [x, third, u];
    return [(a * size[0]) / 2, (b * size[1]) / 2, (c * size[2]) / 2];
  };
  return triangles(faces.flatMap((face) => face.map(place)));
}

function triangles(corners: readonly (readonly number[])[]): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new Float32BufferAttribute(corners.flat(), 3));
  geometry.computeVertexNormals();
  return geometry;
}

function tube(outer: number, inner: number, half: number): BufferGeometry {
  const profile = [
    [inner, -half],
    [outer, -half],
    [outer, half],
    [inner, half],
    [inner, -half],
  ] as const;
  return new LatheGeometry(
    profile.map(([x, y]) => new Vector2(x, y)),
    SIDES,
  );
}

function ring(diameter: number, thickness: number): BufferGeometry {
  return new TorusGeometry((diameter - thickness) / 2, thickness / 2, SIDES / 2, SIDES).rotateX(Math.PI / 2);
}

/** three makes round shapes along Y. */
function upright(geometry: BufferGeometry, up: Up): BufferGeometry {
  return up === "y" ? geometry : geometry.rotateX(Math.PI / 2);
}
