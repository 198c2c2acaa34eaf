// How the scene is looked at: sides, fits, flat or in perspective, shading, look only, choosing by a frame.
import {
  ArrowDownToLine,
  Box,
  Contrast,
  Equal,
  Focus,
  Footprints,
  Lock,
  LockOpen,
  Maximize,
  PersonStanding,
  SquareDashedMousePointer,
} from "lucide-react";
import type { ComponentProps } from "react";
import { CHOOSING, type Shading, useBench, useBenchParts } from "../state/store";
import { Button, Tip } from "../ui/parts";
import { SIDE_WORDS, type Side } from "../view3d/elevations";

export const SHADINGS: readonly Shading[] = ["shaded", "see-through", "wireframe"];

export function nextShading(shading: Shading): Shading {
  return SHADINGS[(SHADINGS.indexOf(shading) + 1) % SHADINGS.length]!;
}

export function ViewTools({ views }: { views: readonly Side[] }) {
  const { fitTo, main, flat, shading, lookOnly, footprints, set } = useBenchParts(
    "fitTo",
    "main",
    "flat",
    "shading",
    "lookOnly",
    "footprints",
    "set",
  );
  const framing = useBench((view) => view.pointer.kind === "framing");
  return (
    <>
      <p className="pointer-events-none absolute top-2 left-2 z-8 rounded-sm bg-sheet/85 px-1.5 text-sm text-ink-soft">
        {SIDE_WORDS[main]}, {flat || main !== "free" ? "flat" : "perspective"}
      </p>
      <div
        role="toolbar"
        aria-label="View"
        className="absolute top-2 right-2 z-8 flex max-w-[calc(100%-8.5rem)] flex-wrap justify-end rounded-md border border-hairline bg-sheet/90"
      >
        {main !== "free" && views.includes("free") && (
          <Tool label="Free view" word="Free" onClick={() => set({ main: "free" })}>
            <Box size={16} aria-hidden />
          </Tool>
        )}
        <Tool label="See the chosen object" word="Chosen" keys="C" onClick={() => fitTo("chosen")}>
          <Focus size={16} aria-hidden />
        </Tool>
        <Tool label="See all" word="All" keys="V" onClick={() => fitTo("all")}>
          <Maximize size={16} aria-hidden />
        </Tool>
        <Tool label="Stand at eye level" word="Eye" keys="E" onClick={() => fitTo("eye")}>
          <PersonStanding size={16} aria-hidden />
        </Tool>
        <Tool label="Look from above" word="Above" keys="A" onClick={() => fitTo("raised")}>
          <ArrowDownToLine size={16} aria-hidden />
        </Tool>
        <Tool
          label={flat ? "Show with depth, in perspective" : "Show flat, without perspective"}
          word={flat ? "Depth" : "Flat"}
          keys="O"
          disabled={main !== "free"}
          onClick={() => set({ flat: !flat })}
        >
          <Equal size={16} aria-hidden />
        </Tool>
        <Tool
          label={`Drawn ${shading}: change`}
          word="Drawn"
          keys="D"
          onClick={() => set({ shading: nextShading(shading) })}
        >
          <Contrast size={16} aria-hidden />
        </Tool>
        <Tool
          label="Feet of all solids on the ground"
          word="Feet"
          keys="J"
          aria-pressed={footprints}
          onClick={() => set({ footprints: !footprints })}
        >
          <Footprints size={16} aria-hidden />
        </Tool>
        <Tool
          label="Choose by a frame"
          word="Frame"
          keys="F"
          aria-pressed={framing}
          onClick={() => set({ pointer: framing ? CHOOSING : { kind: "framing" } })}
        >
          <SquareDashedMousePointer size={16} aria-hidden />
        </Tool>
        <Tool
          label={lookOnly ? "Look only is on: nothing can be moved" : "Look only"}
          word="Look only"
          keys="K"
          aria-pressed={lookOnly}
          onClick={() => set({ lookOnly: !lookOnly })}
        >
          {lookOnly ? <Lock size={16} aria-hidden /> : <LockOpen size={16} aria-hidden />}
        </Tool>
      </div>
    </>
  );
}

type ToolProps = ComponentProps<typeof Button> & { label: string; word: string; keys?: string };

/** A picture with its word, where the view is wide enough for all of them. */
function Tool({ label, word, keys, children, ...props }: ToolProps) {
  return (
    <Tip text={keys ? `${label} (${keys})` : label}>
      <Button
        look="quiet"
        {...props}
        aria-label={label}
        className="gap-1! px-1! text-sm aria-pressed:bg-plum-soft aria-pressed:text-plum"
      >
        {children}
        <span className="hidden @min-[44rem]:inline">{word}</span>
      </Button>
    </Tip>
  );
}
