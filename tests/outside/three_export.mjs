// A scene written by the exporters of three.js: its files into a folder, and where everything is to the standard output.
import { writeFile } from "node:fs/promises";
import { argv } from "node:process";
import * as THREE from "../../web/node_modules/three/build/three.module.js";
import { GLTFExporter } from "../../web/node_modules/three/examples/jsm/exporters/GLTFExporter.js";
import { OBJExporter } from "../../web/node_modules/three/examples/jsm/exporters/OBJExporter.js";
import { PLYExporter } from "../../web/node_modules/three/examples/jsm/exporters/PLYExporter.js";
import { STLExporter } from "../../web/node_modules/three/examples/jsm/exporters/STLExporter.js";

// What the exporter of glTF needs of a browser.
globalThis.FileReader = class {
  readAsArrayBuffer(blob) {
    void blob.arrayBuffer().then((bytes) => {
      this.result = bytes;
      this.onloadend();
    });
  }
  readAsDataURL(blob) {
    void blob.arrayBuffer().then((bytes) => {
      this.result = `data:application/octet-stream;base64,${Buffer.from(bytes).toString("base64")}`;
      this.onloadend();
    });
  }
};

const [folder] = argv.slice(2);
const scene = new THREE.Scene();
const SHAPES = {
  crate: new THREE.BoxGeometry(1, 2, 3),
  barrel: new THREE.CylinderGeometry(0.5, 0.5, 2, 24),
  ball: new THREE.SphereGeometry(0.75, 24, 16),
  horn: new THREE.ConeGeometry(1, 1.5, 17),
};
const made = {};
for (const [i, [name, geometry]] of Object.entries(SHAPES).entries()) {
  const mesh = new THREE.Mesh(geometry, new THREE.MeshStandardMaterial({ color: 0x336699 }));
  mesh.name = name;
  mesh.position.set(3 * i, 0.5 + i, -i);
  mesh.rotation.set(0.3 * i, -0.4, 0.2 * i);
  mesh.scale.set(1, 1 + 0.5 * i, 0.75);
  made[name] = mesh;
}
made.crate.add(made.barrel); // under an uneven scale: skewed in the world
scene.add(made.crate, made.ball, made.horn);
scene.updateMatrixWorld(true);

const gltf = (binary) => new GLTFExporter().parseAsync(scene, { binary });
await writeFile(`${folder}/three.glb`, Buffer.from(await gltf(true)));
await writeFile(`${folder}/three.gltf`, JSON.stringify(await gltf(false)));
await writeFile(`${folder}/three.obj`, new OBJExporter().parse(scene));
await writeFile(`${folder}/three.stl`, Buffer.from(new STLExporter().parse(scene, { binary: true }).buffer));
await writeFile(`${folder}/three.ply`, new PLYExporter().parse(scene, null, {}));
const placed = Object.entries(made).map(([name, mesh]) => [name, mesh.matrixWorld.toArray()]);
console.log(JSON.stringify(Object.fromEntries(placed)));
