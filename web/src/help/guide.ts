// The user guide: the Markdown files of docs/guide, shipped with the screens.
import { GUIDE_PAGES, type GuidePageName } from "../ui/guidePages";

const TEXTS = import.meta.glob<string>("../../../docs/guide/*.md", {
  query: "?raw",
  import: "default",
  eager: true,
});
const PICTURES = import.meta.glob<string>("../../../docs/screenshots/*.png", {
  query: "?url",
  import: "default",
  eager: true,
});

export type GuidePage = { name: GuidePageName; title: string; text: string };

export const GUIDE: readonly GuidePage[] = GUIDE_PAGES.map((name) => {
  const whole = TEXTS[`../../../docs/guide/${name}.md`] ?? "";
  const [first = "", ...rest] = whole.split("\n");
  return { name, title: first.replace(/^# /, ""), text: rest.join("\n") };
});

/** The address of a picture that the guide links to. */
export function pictureAt(link: string): string {
  return PICTURES[`../../../docs/screenshots/${link.split("/").at(-1)}`] ?? link;
}

export type Found = { page: GuidePage; heading: string; line: string };

/** The lines that hold all words of a query, with the heading above each. */
export function search(query: string): Found[] {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return [];
  return GUIDE.flatMap((page) => {
    let heading = page.title;
    return page.text.split(/\n(?=#|- |\d\. |\n)/).flatMap((part): Found[] => {
      const line = part.replace(/[*`#]|!\[.*?\]\(.*?\)/g, "").trim();
      if (part.startsWith("#")) heading = line.split("\n")[0] ?? heading;
      const has = words.every((word) => `${heading} ${line}`.toLowerCase().includes(word));
      return has && line ? [{ page, heading, line }] : [];
    });
  });
}
