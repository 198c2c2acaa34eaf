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

/** What is in a file; the core says whether it is an exercise. Throws a sentence where it is no JSON. */
export async function exerciseIn(file: File): Promise<NonNullable<CreatePlan["exercise"]>> {
  const text = await file.text();
  try {
    return JSON.parse(text);
  } catch {
    throw new Error(`${file.name} is not readable JSON; choose an exercise file.`);
  }
}
