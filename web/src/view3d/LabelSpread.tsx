// Labels in the view never cover one another: a label that would is moved down or up, or hidden if there is no room.
import { addAfterEffect } from "@react-three/fiber";
import { type RefObject, useEffect } from "react";
import { type Box, spread } from "./labelLayout";

export function LabelSpread({ labels }: { labels: RefObject<HTMLElement | null> }) {
  useEffect(
    () =>
      addAfterEffect(() => {
        if (labels.current) layOut(labels.current);
      }),
    [labels],
  );
  return null;
}

function layOut(container: HTMLElement): void {
  const inner = [...container.querySelectorAll<HTMLElement>("[data-label]")];
  for (const label of inner) label.style.translate = "";
  const boxes = inner.map((label): Box => {
    const { left, top, width, height } = label.getBoundingClientRect();
    // The letter of a handle shows where to press, and a live label is a button: both stay where they are.
    return { left, top, width, height, fixed: label.dataset.label !== "word" };
  });
  for (const [i, shift] of spread(boxes).entries()) {
    const label = inner[i];
    if (!label) continue;
    label.style.visibility = shift === null ? "hidden" : "";
    if (shift) label.style.translate = `0 ${shift}px`;
  }
}
