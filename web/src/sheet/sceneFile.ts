// A scene file handed in: what is read of it, and which of its objects is which of the exercise. Pure.
import type { SceneFile, SceneMatch } from "../api/types";

/**
 * The scene in a file: a submission of kind scene, or the scene alone. One that was made for another exercise is
 * refused; what else is in it the server looks at.
 */
export function sceneIn(text: string, exercise: string): SceneFile {
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch {
    throw new Error("This file is no JSON; choose a scene that was saved as JSON.");
  }
  const made = read !== null && typeof read === "object" && "exercise" in read ? read.exercise : exercise;
  if (made !== exercise)
    throw new Error(
      `This file was made for ${String(made)}, not for ${exercise}; choose the file for this exercise.`,
    );
  const inside = read !== null && typeof read === "object" && "scene" in read ? read.scene : read;
  if (inside === null || typeof inside !== "object" || !("objects" in inside))
    throw new Error("This file holds no scene: a list of objects is missing.");
  return inside as SceneFile;
}

/** The scene with all that was shown, so that nothing is found otherwise once a part of it was changed. */
export function withMatches(scene: SceneFile, matches: readonly SceneMatch[]): SceneFile {
  return { ...scene, matches: Object.fromEntries(matches.map((match) => [match.target, match.submitted])) };
}
