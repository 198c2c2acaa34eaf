// Light or dark, kept in the browser; and the tokens as values, for what is drawn in 3D.
import { create } from "zustand";

type Theme = "light" | "dark";
const KEY = "cube-drill:theme";

export const useTheme = create<{ theme: Theme; toggle: () => void }>((set, get) => ({
  theme: localStorage.getItem(KEY) === "dark" ? "dark" : "light",
  toggle: () => {
    const theme = get().theme === "dark" ? "light" : "dark";
    localStorage.setItem(KEY, theme);
    applyTheme(theme);
    set({ theme });
  },
}));

export function applyTheme(theme: Theme): void {
  document.documentElement.dataset.theme = theme;
}

const NAMES = [
  "paper",
  "ink",
  "ink-soft",
  "plum",
  "pass",
  "fail",
  "axis-x",
  "axis-y",
  "axis-z",
  "scene-edge",
  "scene-grid",
  "scene-light",
] as const;
export type Tokens = Record<(typeof NAMES)[number], string>;

/** The tokens of the theme in force. */
export function useTokens(): Tokens {
  useTheme((state) => state.theme);
  const style = getComputedStyle(document.documentElement);
  return Object.fromEntries(
    NAMES.map((name) => [name, style.getPropertyValue(`--${name}`).trim()]),
  ) as Tokens;
}
