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
import { CHOOSING, fitTo, type Shading, setBench, useBench, useBenchParts } from "../state/store";
import { nth } from "../ui/lists";
import { Button, Tip } from "../ui/parts";
import { SIDE_WORDS, type Side } from "../view3d/elevations";

export const SHADINGS: readonly Shading[] = ["shaded", "see-through", "wireframe"];

export function nextShading(shading: Shading): Shading {
  return nth(SHADINGS, (SHADINGS.indexOf(shading) + 1) % SHADINGS.length);
}

export function ViewTools({ views }: { views: readonly Side[] }) {
  const { main, flat, shading, lookOnly, footprints } = useBenchParts(
    "main",
    "flat",
    "shading",
    "lookOnly",
    "footprints",
  );
  const framing = useBench((view) => view.pointer.kind === "framing");
  return (
    <>
      <p className="pointer-events-none absolute top-2 left-2 z-8 rounded-sm bg-sheet/85 px-1.5 text-sm text-ink-soft">
        {SIDE_WORDS[main]}, {flat || main !== "free" ? "parallel" : "perspective"}
      </p>
      <div
        role="toolbar"
        aria-label="View"
        className="absolute top-2 right-2 z-8 flex max-w-[calc(100%-8.5rem)] flex-wrap justify-end rounded-md border border-hairline bg-sheet/90"
      >
        {main !== "free" && views.includes("free") && (
          <Tool label="Free view" word="Free" onClick={() => setBench({ main: "free" })}>
            <Box size={16} aria-hidden />
          </Tool>
        )}
        <Tool
          label="Fit the selection in the view"
          word="Fit selection"
          keys="C"
          onClick={() => fitTo("chosen")}
        >
          <Focus size={16} aria-hidden />
        </Tool>
        <Tool label="Fit all objects in the view" word="Fit all" keys="V" onClick={() => fitTo("all")}>
          <Maximize size={16} aria-hidden />
        </Tool>
        <Tool label="Look from eye level" word="Eye level" keys="E" onClick={() => fitTo("eye")}>
          <PersonStanding size={16} aria-hidden />
        </Tool>
        <Tool label="Look from above" word="From above" keys="A" onClick={() => fitTo("raised")}>
          <ArrowDownToLine size={16} aria-hidden />
        </Tool>
        <Tool
          label={flat ? "Perspective view" : "Parallel view, without perspective"}
          word={flat ? "Perspective" : "Parallel"}
          keys="O"
          disabled={main !== "free"}
          onClick={() => setBench({ flat: !flat })}
        >
          <Equal size={16} aria-hidden />
        </Tool>
        <Tool
          label={`Shading: ${shading}`}
          word="Shading"
          keys="D"
          onClick={() => setBench({ shading: nextShading(shading) })}
        >
          <Contrast size={16} aria-hidden />
        </Tool>
        <Tool
          label="Show footprints on the ground"
          word="Footprints"
          keys="J"
          aria-pressed={footprints}
          onClick={() => setBench({ footprints: !footprints })}
        >
          <Footprints size={16} aria-hidden />
        </Tool>
        <Tool
          label="Select by box"
          word="Select by box"
          keys="F"
          aria-pressed={framing}
          onClick={() => setBench({ pointer: framing ? CHOOSING : { kind: "framing" } })}
        >
          <SquareDashedMousePointer size={16} aria-hidden />
        </Tool>
        <Tool
          label={lookOnly ? "Look only is on: nothing can be moved" : "Look only"}
          word="Look only"
          keys="K"
          aria-pressed={lookOnly}
          onClick={() => setBench({ lookOnly: !lookOnly })}
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
        className="gap-1! px-1.5! text-sm aria-pressed:bg-plum-soft aria-pressed:text-plum"
      >
        {children}
        <span className="hidden @min-[64rem]:inline">{word}</span>
      </Button>
    </Tip>
  );
}
