// Exercise files, to the disk and from it.
import type { CreatePlan } from "../api/types";

/** Lets the browser save a document under a name. */
export function saveAs(name: string, document_: unknown): void {
  const url = URL.createObjectURL(
    new Blob([`${JSON.stringify(document_, null, 2)}\n`], { type: "application/json" }),
  );
  const link = document.createElement("a");
  link.href = url;
  link.download = `${name}.json`;
  link.click();
  URL.revokeObjectURL(url);
}

/** What a plan begins as with a file: an exercise, or the objects of a scene. Throws a sentence where it is neither. */
export async function originIn(file: File): Promise<Pick<CreatePlan, "exercise" | "scene">> {
  const text = await file.text();
  let found: { format?: unknown; scene?: unknown; objects?: unknown };
  try {
    found = JSON.parse(text);
  } catch {
    throw new Error(`${file.name} is not readable JSON; choose an exercise or a scene.`);
  }
  // What is in it the core says: here it is only told which of the two it is.
  if (found.format === "cube-drill/exercise") return { exercise: found as never };
  return { scene: (found.scene ?? found) as never };
}
