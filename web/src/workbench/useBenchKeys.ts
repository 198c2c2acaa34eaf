// The bench by keyboard: one table of keys, which the list under ? shows too.
import { type RefObject, useEffect } from "react";
import { create } from "zustand";
import type { SceneObject } from "../api/types";
import { type MoreOp, type Op, withAmount, withOnlyAxis, withoutAmounts } from "../state/sentence";
import { CHOOSING, changeSentence, fitTo, setBench, useBench } from "../state/store";
import { axisKindOf } from "../steps/axisKinds";
import { withAxisSwitched, withMode } from "../steps/axisSentence";
import { AXIS_OPS, kindOf, MORE_OPS } from "../steps/registry";
import { nth } from "../ui/lists";
import { AXIS_NAMES, type AxisIndex } from "../view3d/matrices";
import { treeOf } from "./ObjectList";
import { nextShading } from "./ViewTools";

export const KEYS: readonly (readonly [keys: string, what: string])[] = [
  ["0–9 − . , (", "Start typing the amount on the underlined axis"],
  ["/", "Type the step as text"],
  ["Enter", "Apply the step; again to repeat it"],
  ["Esc", "Cancel a drag or a choice, or clear the amounts"],
  ["M, R, S", "Move, rotate, scale"],
  ["Shift + letter", "Another kind of step, as listed under More"],
  ["X, Y, Z", "This axis only; with Shift, add or remove it"],
  ["B, T", "By an amount, To a value"],
  ["W, L, Q", "World, local or parent axes"],
  ["← →", "Nudge along the underlined axis"],
  ["N, P", "Next object, previous object; with Shift, add it"],
  ["U", "Select the assembly that holds the object"],
  ["C, V", "Fit the selection, fit all"],
  ["E, A", "Eye level, from above"],
  ["O, D", "Parallel or perspective; change the shading"],
  ["F, K", "Select by box; look only"],
  ["J", "Footprints on the ground"],
  ["G, H", "Previous step, next step"],
  ["Ctrl + Enter", "Submit"],
  ["Ctrl + Z", "Undo"],
  ["Ctrl + Y", "Redo"],
  ["?", "This help"],
];

const OFF_KEY = "cube-drill:single-keys-off";

/** Whether keys without Ctrl do anything (WCAG 2.2, 2.1.4: they can be switched off). */
export const useSingleKeys = create<{ on: boolean; toggle: () => void }>((set, get) => ({
  on: localStorage.getItem(OFF_KEY) === null,
  toggle: () => {
    const on = !get().on;
    if (on) localStorage.removeItem(OFF_KEY);
    else localStorage.setItem(OFF_KEY, "1");
    set({ on });
  },
}));

export type KeyActions = {
  objects: readonly SceneObject[];
  fields: RefObject<(HTMLInputElement | null)[]>;
  commit: () => void;
  begin: (op: Op) => void;
  /** Does a kind of step with what was set last. */
  atOnce: (op: MoreOp) => void;
  nudge: (way: 1 | -1) => void;
  undo: () => void;
  redo: () => void;
  choose: (ids: readonly string[]) => void;
  lookBy: (way: 1 | -1) => void;
  help: () => void;
  finish: () => void;
};

export function useBenchKeys(actions: KeyActions): void {
  const single = useSingleKeys((state) => state.on);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (document.querySelector("[role=dialog], [role=alertdialog], [role=listbox], [role=menu]")) return;
      if (event.altKey) return; // the browser's own
      if (useBench.getState().pointer.kind === "dragging") return event.preventDefault(); // a drag is under way; Escape gives it up
      const typing =
        event.target instanceof HTMLInputElement ||
        event.target instanceof HTMLSelectElement ||
        event.target instanceof HTMLTextAreaElement;
      const done =
        event.ctrlKey || event.metaKey
          ? withControl(event, typing, actions)
          : !typing && single && alone(event, actions);
      if (done) event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [actions, single]);
}

function withControl(event: KeyboardEvent, typing: boolean, { undo, redo, finish }: KeyActions): boolean {
  const key = event.key.toLowerCase();
  if (key === "enter") {
    finish();
    return true;
  }
  const { sentence, done } = useBench.getState();
  if (typing && sentence.amounts !== done) return false; // what is being typed has the browser's own undo
  if (key === "z" && !event.shiftKey) undo();
  else if (key === "y" || (key === "z" && event.shiftKey)) redo();
  else return false;
  return true;
}

function alone(event: KeyboardEvent, actions: KeyActions): boolean {
  const { sentence, ...view } = useBench.getState();
  const key = event.key;
  const within = (roles: string) => event.target instanceof Element && event.target.closest(roles) !== null;
  if (/^[0-9.,(−-]$/.test(key)) {
    const field = actions.fields.current[sentence.lit];
    if (!field) return false;
    field.focus();
    changeSentence(withAmount(sentence, sentence.lit, key));
    return true;
  }
  // A capital that Caps Lock made is a small letter; + has a key of its own on some keyboards.
  const meant = event.shiftKey || !/^[A-Z]$/.test(key);
  const more = meant ? MORE_OPS.find((op) => kindOf(op).key === key) : undefined;
  if (more && !within("input, select, textarea")) {
    if (kindOf(more).atOnce) actions.atOnce(more);
    else actions.begin(more);
    return true;
  }
  const axis = (AXIS_NAMES as readonly string[]).indexOf(key.toUpperCase()) as AxisIndex;
  if (AXIS_NAMES[axis]) {
    changeSentence(event.shiftKey ? withAxisSwitched(sentence, axis) : withOnlyAxis(sentence, axis));
    return true;
  }
  if (key === "Enter" && within("button, a, [role=radio], [role=tab]")) return false;
  if (key.startsWith("Arrow") && within("[role=radio], [role=tab], [aria-haspopup], [role=combobox]"))
    return false;
  if (event.repeat && key === "Enter") return true; // held down, it does not repeat the step
  const next = (way: 1 | -1) => {
    const { pointer } = view;
    if (pointer.kind === "picking") {
      if (pointer.what === "contact") return;
      const tree = treeOf(actions.objects);
      const here = tree.findIndex((item) => item.id === pointer.on);
      const on = nth(tree, (here + way + tree.length) % tree.length).id;
      return setBench({ pointer: { ...pointer, on } }); // the dots of another object
    }
    const id = neighbour(actions.objects, sentence.objects.at(-1) ?? null, way);
    actions.choose(event.shiftKey ? [...sentence.objects.filter((other) => other !== id), id] : [id]);
  };
  const above = actions.objects.find((item) => item.id === sentence.objects.at(-1))?.parent;
  const table: Record<string, () => void> = {
    ...Object.fromEntries(AXIS_OPS.map((op) => [axisKindOf(op).key, () => actions.begin(op)])),
    b: () => changeSentence(withMode(sentence, "by")),
    t: () => changeSentence(withMode(sentence, "to")),
    w: () => changeSentence({ ...sentence, space: "world" }),
    l: () => changeSentence({ ...sentence, space: "local" }),
    q: () => changeSentence({ ...sentence, space: "parent" }),
    n: () => next(1),
    p: () => next(-1),
    u: () => above && actions.choose([above]),
    c: () => fitTo("chosen"),
    v: () => fitTo("all"),
    e: () => fitTo("eye"),
    a: () => fitTo("raised"),
    o: () => setBench({ flat: !view.flat }),
    d: () => setBench({ shading: nextShading(view.shading) }),
    j: () => setBench({ footprints: !view.footprints }),
    f: () => setBench({ pointer: view.pointer.kind === "framing" ? CHOOSING : { kind: "framing" } }),
    k: () => setBench({ lookOnly: !view.lookOnly }),
    "/": () => setBench({ asText: true }),
    g: () => actions.lookBy(-1),
    h: () => actions.lookBy(1),
    arrowleft: () => actions.nudge(-1),
    arrowdown: () => actions.nudge(-1),
    arrowright: () => actions.nudge(1),
    arrowup: () => actions.nudge(1),
    escape: () => {
      setBench({ pointer: CHOOSING, warning: null });
      if (view.pointer.kind !== "choosing") return;
      if (view.more) setBench({ more: null });
      else changeSentence(withoutAmounts(sentence));
    },
    enter: actions.commit,
    "?": actions.help,
  };
  const action = table[key.toLowerCase()];
  action?.();
  return action !== undefined;
}

/** The next or previous object that can be moved, round and round. */
function neighbour(objects: readonly SceneObject[], chosen: string | null, by: 1 | -1): string {
  const free = treeOf(objects).filter((item) => !item.locked);
  const here = free.findIndex((item) => item.id === chosen);
  const next = here === -1 ? (by === 1 ? 0 : free.length - 1) : (here + by + free.length) % free.length;
  return (free[next] ?? nth(objects, 0)).id;
}
