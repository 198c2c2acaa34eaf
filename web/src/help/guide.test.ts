import { expect, it } from "vitest";
import { pageFor } from "../ui/guidePages";
import { GUIDE, pictureAt, search } from "./guide";

it("has six pages with a title and a text", () => {
  expect(GUIDE.map(({ title }) => title)).toEqual([
    "Your first exercise in ten minutes",
    "Your first class",
    "Working on the bench",
    "Files from your own program",
    "Reading a result",
    "What the checker can and cannot tell",
  ]);
  for (const { text } of GUIDE) expect(text.length).toBeGreaterThan(500);
});

it("ships every picture that it shows", () => {
  const links = GUIDE.flatMap(({ text }) =>
    [...text.matchAll(/!\[.*?\]\((.*?)\)/g)].map((found) => found[1] ?? ""),
  );
  expect(links.length).toBeGreaterThan(4);
  for (const link of links) expect(pictureAt(link)).not.toBe(link);
});

it.each([
  ["/workshop/3/checks", "first-exercise"],
  ["/classes/1/people", "first-class"],
  ["/bench/4", "bench"],
  ["/file/9/2", "files"],
  ["/result/7", "result"],
  ["/", "bench"],
])("at %s it opens %s", (pathname, page) => {
  expect(pageFor(pathname)).toBe(page);
});

it("finds a line by its words, in any case and order, and says under which heading", () => {
  const [found] = search("UNIT axes");
  expect(found).toMatchObject({ page: { name: "files" }, heading: "Before you submit" });
  expect(search("zebra")).toEqual([]);
  expect(search(" ")).toEqual([]);
});
