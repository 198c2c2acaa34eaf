// Paint: colour and opacity.
import { AmountChip, TextChip, Word } from "./chips";
import type { Kind } from "./kind";

// Eight that stay apart for eyes that tell few colours apart: they differ in lightness as well as in hue.
const COLOURS: Readonly<Record<string, string>> = {
  "#1b2a49": "ink blue",
  "#8c2f39": "dark red",
  "#2f6f5e": "sea green",
  "#5b7db1": "slate blue",
  "#c1762d": "ochre",
  "#a9c7a0": "pale green",
  "#e3c35a": "straw",
  "#f1e9dc": "chalk",
};
const SIX = /^#[0-9a-f]{6}$/i;

export const paint: Kind<"paint"> = {
  name: "Paint",
  purpose: "Colour and opacity",
  group: "Name and colour",
  key: "K",
  acts: "chosen",
  begin: () => ({ colour: "#5b7db1" }),
  make: ({ colour, opacity }) => {
    if (colour && !SIX.test(colour)) return "A colour is # and six digits from 0 to 9 or A to F.";
    if (opacity != null && !(opacity >= 0 && opacity <= 1)) return "The opacity is a number from 0 to 1.";
    if (!colour && opacity == null) return "Choose a colour, or type an opacity.";
    return { colour: colour || null, opacity: opacity ?? null };
  },
  Chips: ({ values, change }) => (
    <>
      <span className="inline-flex gap-0.5">
        {Object.entries(COLOURS).map(([colour, name]) => (
          <button
            key={colour}
            type="button"
            aria-label={name}
            aria-pressed={values.colour === colour}
            title={name}
            onClick={() => change({ colour })}
            className="size-7 rounded-md border border-edge aria-pressed:outline-2 aria-pressed:outline-plum"
            style={{ background: colour }}
          />
        ))}
      </span>
      <TextChip
        label="Colour"
        value={values.colour ?? ""}
        onChange={(colour) => change({ colour: colour.trim() })}
      />
      <Word>opacity</Word>
      <AmountChip
        label="Opacity"
        unit="of 1"
        value={values.opacity}
        onChange={(opacity) => change({ opacity: opacity as number })}
      />
    </>
  ),
};
