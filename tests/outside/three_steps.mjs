// Replays steps with three.js: a graph of Object3D, moved with translateX and its kin's own means, turned with
// rotateOnAxis and rotateOnWorldAxis, nested with attach, aimed with lookAt, scaled by its scale. Reads cases as JSON on
// standard input, prints the world matrices as JSON.
import { createRequire } from "node:module";

const require = createRequire(new URL("../../web/package.json", import.meta.url));
const { Euler, MathUtils, Object3D, Quaternion, Scene, Vector3 } = require("three");

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
  for (const step of steps) {
    scene.updateMatrixWorld(true);
    OPS[step.op](byId.get(step.objects[0]), step, byId, scene);
  }
  scene.updateMatrixWorld(true);
  return Object.fromEntries([...byId].map(([id, object]) => [id, object.matrixWorld.elements]));
}

const AXES = { x: new Vector3(1, 0, 0), y: new Vector3(0, 1, 0), z: new Vector3(0, 0, 1) };

const OPS = {
  move(object, { space, by }) {
    if (space === "parent") {
      object.position.add(new Vector3(...by));
      return;
    }
    const world = object.getWorldPosition(new Vector3());
    const along = new Vector3(...by);
    if (space === "local") along.applyQuaternion(object.getWorldQuaternion(new Quaternion()));
    object.position.copy(object.parent.worldToLocal(world.add(along)));
  },
  rotate(object, { space, axis, angle, to }) {
    if (to) {
      object.quaternion.setFromEuler(new Euler(...to.map(MathUtils.degToRad), "XYZ"));
      return;
    }
    const radians = MathUtils.degToRad(angle);
    if (space === "local") object.rotateOnAxis(AXES[axis], radians);
    // rotateOnWorldAxis takes the parent for one that is not turned: in the parent's own axes that is what is meant.
    else if (space === "parent") object.rotateOnWorldAxis(AXES[axis], radians);
    else {
      const parent = object.parent.getWorldQuaternion(new Quaternion());
      object.rotateOnWorldAxis(AXES[axis].clone().applyQuaternion(parent.invert()), radians);
    }
  },
  scale(object, { by }) {
    object.scale.multiply(new Vector3(...by));
  },
  nest(object, { parent }, byId, scene) {
    (parent ? byId.get(parent) : scene).attach(object);
  },
  aim(object, { at }) {
    object.lookAt(new Vector3(...at));
  },
};

const cases = JSON.parse(await new Response(process.stdin).text());
console.log(JSON.stringify(cases.map(replayed)));
