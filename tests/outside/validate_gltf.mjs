// Khronos' own validator over files of glTF: prints what it finds, a line of JSON a file.
import { readFile } from "node:fs/promises";
import { createRequire } from "node:module";
import { argv } from "node:process";

const validator = createRequire(new URL("../../web/package.json", import.meta.url))("gltf-validator");

for (const path of argv.slice(2)) {
  const { issues } = await validator.validateBytes(new Uint8Array(await readFile(path)), { ignoredIssues: [] });
  const found = issues.messages.filter(({ severity }) => severity < 2); // errors and warnings
  console.log(JSON.stringify({ path, found: found.map(({ code, message, pointer }) => `${code} ${message} ${pointer}`) }));
}
