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
      return triangles(solid.triangles.flatMap((triangle) => triangle.map((i) => solid.vertices[i]!)));
  }
}

export function edgesOf(geometry: BufferGeometry): EdgesGeometry {
  return new EdgesGeometry(geometry, CREASE_DEGREES);
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
