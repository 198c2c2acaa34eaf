// Words at a place in the view, drawn by the page and never in the pointer's way.
import { Html } from "@react-three/drei";
import type { ReactNode, RefObject } from "react";
import { useView } from "./context";

type Props = {
  at?: readonly [number, number, number];
  shift?: string;
  /** Whether it is more than a word in the picture: then it is said, and can be pressed. */
  live?: boolean;
  /** Whether it stays in its place where labels crowd: the letter of a handle is where one presses. */
  fixed?: boolean;
  children: ReactNode;
};

/** shift: a CSS translation from the place, such as "-50%, -50%" to stand in the middle of it. */
export function Label({ at = [0, 0, 0], shift = "-50%, -50%", live = false, fixed = live, children }: Props) {
  const { labels } = useView();
  return (
    <Html
      position={at as [number, number, number]}
      portal={labels as RefObject<HTMLElement>}
      zIndexRange={[7, 0]}
      style={{ pointerEvents: "none", transform: `translate(${shift})` }}
    >
      <div aria-hidden={!live} data-label={fixed ? "fixed" : "word"}>
        {children}
      </div>
    </Html>
  );
}
