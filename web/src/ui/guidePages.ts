// The pages of the user guide, and which one is about a screen.
export const GUIDE_PAGES = ["first-exercise", "first-class", "bench", "files", "result", "checker"] as const;
export type GuidePageName = (typeof GUIDE_PAGES)[number];

/** The page about the screen at an address. */
export function pageFor(pathname: string): GuidePageName {
  const first = pathname.split("/")[1] ?? "";
  const pages: Record<string, GuidePageName> = {
    workshop: "first-exercise",
    classes: "first-class",
    assignments: "first-class",
    bench: "bench",
    sheet: "bench",
    file: "files",
    result: "result",
  };
  return pages[first] ?? "bench";
}
