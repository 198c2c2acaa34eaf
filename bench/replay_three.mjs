// The same moves and turns with three.js, timed here so that node's start is not: reads {objects, steps, repeats},
// prints the seconds of the fastest run and the world matrices.
import { createRequire } from "node:module";

const require = createRequire(new URL("../web/package.json", import.meta.url));
const { MathUtils, Object3D, Quaternion, Scene, Vector3 } = require("three");

const AXES = { x: new Vector3(1, 0, 0), y: new Vector3(0, 1, 0), z: new Vector3(0, 0, 1) };
const { objects, steps, repeats } = JSON.parse(await new Response(process.stdin).text());

let fastest = Number.POSITIVE_INFINITY;
let last;
for (let run = 0; run <= repeats; run++) {
  const made = build();
  const began = performance.now();
  replay(made);
  if (run > 0) fastest = Math.min(fastest, performance.now() - began);
  last = made;
}
const worlds = Object.fromEntries([...last.byId].map(([id, object]) => [id, object.matrixWorld.elements]));
console.log(JSON.stringify({ seconds: fastest / 1000, worlds }));

function build() {
  const scene = new Scene();
  const byId = new Map();
  for (const { id, parent, translation, rotation } of objects) {
    const object = new Object3D();
    object.position.set(...translation);
    object.quaternion.set(...rotation);
    (parent ? byId.get(parent) : scene).add(object);
    byId.set(id, object);
  }
  scene.updateMatrixWorld(true);
  return { scene, byId };
}

function replay({ scene, byId }) {
  for (const { op, objects: [id], space, by, axis, angle } of steps) {
    const object = byId.get(id);
    if (op === "move") move(object, space, by);
    else turn(object, space, axis, MathUtils.degToRad(angle));
    scene.updateMatrixWorld(true);
  }
}

function move(object, space, by) {
  if (space === "parent") {
    object.position.add(new Vector3(...by));
    return;
  }
  const along = new Vector3(...by);
  if (space === "local") along.applyQuaternion(object.getWorldQuaternion(new Quaternion()));
  object.position.copy(object.parent.worldToLocal(object.getWorldPosition(new Vector3()).add(along)));
}

function turn(object, space, axis, radians) {
  if (space === "local") object.rotateOnAxis(AXES[axis], radians);
  else if (space === "parent") object.rotateOnWorldAxis(AXES[axis], radians);
  else {
    const parent = object.parent.getWorldQuaternion(new Quaternion());
    object.rotateOnWorldAxis(AXES[axis].clone().applyQuaternion(parent.invert()), radians);
  }
}
