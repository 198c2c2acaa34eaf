// How the scene is looked at: sides, fits, flat or in perspective, shading, look only, choosing by a frame.
import {
  Box,
  Focus,
  Lock,
  LockOpen,
  Maximize,
  PersonStanding,
  SquareDashed,
  SquareDashedMousePointer,
} from "lucide-react";
import { IconButton } from "../ui/parts";
import { SIDE_WORDS } from "../view3d/elevations";
import { type Shading, useBenchParts } from "./store";

export const SHADINGS: readonly Shading[] = ["shaded", "see-through", "wireframe"];

export function nextShading(shading: Shading): Shading {
  return SHADINGS[(SHADINGS.indexOf(shading) + 1) % SHADINGS.length]!;
}

export function ViewTools() {
  const { fitTo, main, flat, shading, lookOnly, framing, set } = useBenchParts(
    "fitTo",
    "main",
    "flat",
    "shading",
    "lookOnly",
    "framing",
    "set",
  );
  return (
    <div
      role="toolbar"
      aria-label="View"
      className="absolute top-2 right-2 flex items-center rounded-md border border-hairline bg-sheet/90"
    >
      <span className="px-2 text-sm text-ink-soft">
        {SIDE_WORDS[main]}, {flat || main !== "free" ? "flat" : "perspective"}
      </span>
      {main !== "free" && (
        <IconButton label="Free view" onClick={() => set({ main: "free" })}>
          <Box size={16} aria-hidden />
        </IconButton>
      )}
      <IconButton label="See the chosen object" keys="C" onClick={() => fitTo("chosen")}>
        <Focus size={16} aria-hidden />
      </IconButton>
      <IconButton label="See everything" keys="V" onClick={() => fitTo("all")}>
        <Maximize size={16} aria-hidden />
      </IconButton>
      <IconButton label="Stand at eye level" keys="E" onClick={() => fitTo("eye")}>
        <PersonStanding size={16} aria-hidden />
      </IconButton>
      <IconButton label="Look from above" keys="A" onClick={() => fitTo("raised")}>
        <span aria-hidden className="font-mono text-sm">
          ↧
        </span>
      </IconButton>
      <IconButton
        label={flat ? "Show in perspective" : "Show flat, without perspective"}
        keys="O"
        disabled={main !== "free"}
        onClick={() => set({ flat: !flat })}
      >
        <span aria-hidden className="font-mono text-sm">
          {flat ? "⟋⟍" : "∥"}
        </span>
      </IconButton>
      <IconButton
        label={`Drawn ${shading}: change`}
        keys="D"
        onClick={() => set({ shading: nextShading(shading) })}
      >
        <SquareDashed size={16} aria-hidden />
      </IconButton>
      <IconButton
        label="Choose by a frame"
        keys="F"
        aria-pressed={framing}
        onClick={() => set({ framing: !framing })}
      >
        <SquareDashedMousePointer size={16} aria-hidden className={framing ? "text-plum" : ""} />
      </IconButton>
      <IconButton
        label={lookOnly ? "Look only is on: nothing can be moved" : "Look only"}
        keys="K"
        aria-pressed={lookOnly}
        onClick={() => set({ lookOnly: !lookOnly })}
      >
        {lookOnly ? <Lock size={16} aria-hidden className="text-plum" /> : <LockOpen size={16} aria-hidden />}
      </IconButton>
    </div>
  );
}
