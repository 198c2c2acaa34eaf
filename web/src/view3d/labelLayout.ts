// Where labels go so that none covers another. Pure.
export type Box = { left: number; top: number; width: number; height: number; fixed: boolean };

const GAP_PX = 2;

/** The vertical shift of each box; `null`: there is no room for it. Fixed boxes are never moved. */
export function spread(boxes: readonly Box[]): (number | null)[] {
  const placed: Box[] = boxes.filter((box) => box.fixed && box.width > 0);
  return boxes.map((box) => {
    if (box.fixed || box.width === 0) return 0;
    const step = box.height + GAP_PX;
    const shift = [0, step, -step, 2 * step, -2 * step].find(
      (each) => !placed.some((other) => overlap({ ...box, top: box.top + each }, other)),
    );
    if (shift !== undefined) placed.push({ ...box, top: box.top + shift });
    return shift ?? null;
  });
}

function overlap(a: Box, b: Box): boolean {
  return (
    a.left < b.left + b.width &&
    b.left < a.left + a.width &&
    a.top < b.top + b.height &&
    b.top < a.top + a.height
  );
}
