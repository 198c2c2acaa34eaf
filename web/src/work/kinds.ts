// The kinds of file, by how their names end, as the server reads and writes them.

export const WRITTEN_KINDS = [
  { end: ".glb", name: "glTF binary" },
  { end: ".gltf", name: "glTF text" },
  { end: ".usda", name: "OpenUSD text" },
  { end: ".usdc", name: "OpenUSD binary" },
  { end: ".dae", name: "Collada" },
  { end: ".obj", name: "OBJ" },
  { end: ".stl", name: "STL" },
  { end: ".ply", name: "PLY" },
  { end: ".csv", name: "CSV of transforms" },
  { end: ".json", name: "Cube Drill file" },
] as const;

export type KindEnd = (typeof WRITTEN_KINDS)[number]["end"];

/** What a scene can be added as. */
export const SCENE_KINDS: readonly string[] = [
  ...WRITTEN_KINDS.map(({ end }) => end).filter((end) => end !== ".csv"),
  ".usdz",
];

export const READ_KINDS: readonly string[] = [...SCENE_KINDS, ".csv", ".txt"];

/** Those whose axes and unit the format itself fixes. */
export const FIXED: readonly string[] = [".glb", ".gltf"];
