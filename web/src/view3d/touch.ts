/** Half the width that a finger needs, in CSS pixels. */
const FINGER_PX = 16;

const coarse = globalThis.matchMedia?.("(pointer: coarse)").matches ?? false;

/** The radius in which a handle is hit: larger if the pointer is a finger. */
export function hitRadius(pixels: number): number {
  return coarse ? Math.max(pixels, FINGER_PX) : pixels;
}
