// Exercise files, to the disk and from it.
import type { CreatePlan } from "../api/types";
import { saveBlob } from "../ui/saveBlob";

/** Lets the browser save a document under a name. */
export function saveAs(name: string, document_: unknown): void {
  const text = `${JSON.stringify(document_, null, 2)}\n`;
  saveBlob(`${name}.json`, new Blob([text], { type: "application/json" }));
}

/** The exercise in a file, where it is one of ours; `null` where the server is to say what is in it. */
export async function exerciseIn(file: File): Promise<CreatePlan["exercise"] | null> {
  if (!/\.json$/i.test(file.name)) return null;
  try {
    const found = JSON.parse(await file.text());
    return found?.format === "cube-drill/exercise" ? found : null;
  } catch {
    return null; // the server says what is wrong with it
  }
}
