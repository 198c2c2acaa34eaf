// Replays moves with three.js: a scene graph of Object3D, moved by translateX and its kin (local), by position (world
// and parent). Reads cases as JSON on standard input, prints the world matrices as JSON.
import { createRequire } from "node:module";

const require = createRequire(new URL("../../web/package.json", import.meta.url));
const { Object3D, Scene, Vector3 } = require("three");

const cases = JSON.parse(await new Response(process.stdin).text());
console.log(JSON.stringify(cases.map(replayed)));

function replayed({ objects, steps }) {
  const scene = new Scene();
  const byId = new Map();
  for (const { id, parent, translation, rotation, scale } of objects) {
    const object = new Object3D();
    object.position.set(...translation);
    object.quaternion.set(...rotation);
    object.scale.set(...scale);
    (parent ? byId.get(parent) : scene).add(object);
    byId.set(id, object);
  }
  for (const { objects: [id], space, by } of steps) {
    const object = byId.get(id);
    scene.updateMatrixWorld(true);
    if (space === "parent") object.position.add(new Vector3(...by));
    else {
      const world = object.getWorldPosition(new Vector3());
      const along = new Vector3(...by);
      if (space === "local") along.applyQuaternion(object.getWorldQuaternion(object.quaternion.clone()));
      object.position.copy(object.parent.worldToLocal(world.add(along)));
    }
  }
  scene.updateMatrixWorld(true);
  return Object.fromEntries([...byId].map(([id, object]) => [id, object.matrixWorld.elements]));
}
