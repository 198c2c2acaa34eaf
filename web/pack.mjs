// Lays each file of the built screens beside itself, compressed once here instead of at every visit.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { brotliCompressSync, gzipSync } from "node:zlib";

const ASSETS = new URL("../src/cubedrill/screens/assets/", import.meta.url);
const FROM = 1000; // bytes

for (const name of readdirSync(ASSETS).filter((each) => /\.(js|css|svg)$/.test(each))) {
  const content = readFileSync(new URL(name, ASSETS));
  if (content.length < FROM) continue;
  writeFileSync(new URL(`${name}.br`, ASSETS), brotliCompressSync(content));
  writeFileSync(new URL(`${name}.gz`, ASSETS), gzipSync(content, { level: 9 }));
}
