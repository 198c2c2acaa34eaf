import { describe, expect, it } from "vitest";
import { amountOf, type Bounds, fieldsOf, numbersIn, outside, readAmount } from "./amount";

describe("an amount", () => {
  it.each([
    ["2.5", 2.5],
    ["-3", -3],
    ["−3", -3],
    ["0,5", 0.5],
    ["0,125", 0.125],
    ["12,5", 12.5],
    ["1,5+2.5", 4],
    [".5", 0.5],
    [",5", 0.5],
    ["5.", 5],
    ["360/7", 360 / 7],
    ["-4/2", -2],
    ["2*(1+0.5)", 3],
    ["2 × 3", 6],
    ["1-2-3", -4],
    ["12/2/3", 2],
    ["1+2*3", 7],
    ["--2", 2],
    ["1e3", 1000],
    ["1e-3", 0.001],
    ["1.5E+2", 150],
    [" 2 ", 2],
  ])("reads %s", (text, value) => {
    expect(amountOf(text)).toBeCloseTo(value, 12);
  });

  it.each([
    ["", "nothing is typed"],
    [" ", "nothing is typed"],
    ["abc", "“abc” is not a number"],
    ["1/0", "divides by 0"],
    ["1+", "incomplete"],
    ["(1", "incomplete"],
    ["1)", "“)” cannot follow"],
    ["2 m", "“m” is not a number"],
    ["2m", "“2m” is not a number"],
    ["1..2", "is not a number"],
    ["1.2.3", "is not a number"],
    ["*2", "incomplete"],
    ["()", "incomplete"],
    ["-3\t0.15\t-2", "“0.15” cannot follow"],
    ["1 000", "“000” cannot follow"],
    ["1 2", "“2” cannot follow"],
    ["1,000", "could be 1.000 or 1000"],
    ["12,345", "could be 12.345 or 12345"],
    ["1,000,000", "is not a number"],
    ["1e", "is not a number"],
    ["0x10", "is not a number"],
    ["Infinity", "is not a number"],
  ])("refuses %j", (text, why) => {
    expect(amountOf(text)).toBeNull();
    expect(readAmount(text)).toMatchObject({ why: expect.stringContaining(why) });
  });
});

it("says why a number is not taken, at the ends and between them", () => {
  const edges = [-0.1, 0, 0.1, 1, 1.1, 2];
  const taken = (bounds: Bounds) => edges.filter((value) => outside(value, bounds) === null);
  expect(taken({})).toEqual(edges);
  expect(taken({ above: 0 })).toEqual([0.1, 1, 1.1, 2]);
  expect(taken({ least: 0 })).toEqual([0, 0.1, 1, 1.1, 2]);
  expect(taken({ least: 0, most: 1 })).toEqual([0, 0.1, 1]);
  expect(taken({ least: 0, whole: true })).toEqual([0, 1, 2]);
  expect(outside(-2, { above: 0 })).toBe("it must be more than 0");
});

describe("pasted numbers", () => {
  it.each([
    ["1,5\t2,5\t3,5", [1.5, 2.5, 3.5]],
    ["1.5\t-2\t0.25", [1.5, -2, 0.25]],
    ["1,5;2,5;3,5", [1.5, 2.5, 3.5]],
    ["1,5 2,5 3,5", [1.5, 2.5, 3.5]],
    ["1.5, 2.5, 3.5", [1.5, 2.5, 3.5]],
    ["1.5,2.5,3.5", [1.5, 2.5, 3.5]],
    ["[1, 2, −3]", [1, 2, -3]],
    ["1 2 3\n4 5 6", [1, 2, 3, 4, 5, 6]],
    ["1\t2\r\n3\t4\r\n", [1, 2, 3, 4]],
    ["0,5", [0.5]],
    ["1\t2\t3\t\n", [1, 2, 3]], // a cell that is empty at the end
  ])("reads %j", (text, numbers) => {
    expect(numbersIn(text)).toEqual({ numbers });
  });

  it.each([
    ["1\ttwo\t3", "Number 2: “two” is not a number."],
    ["1\t\t3", "Number 2: nothing is typed."],
    ["1 2 3 m", "Number 4: “m” is not a number."],
    ["1,000\t2\t3", "Number 1: “1,000” could be 1.000 or 1000. Type one of these."],
  ])("refuses %j with its place", (text, why) => {
    expect(numbersIn(text)).toEqual({ why });
  });

  it("keeps the rows and columns of a table, empty fields too", () => {
    expect(fieldsOf("1\t\t3\n4\t5\t6\n")).toEqual([
      ["1", "", "3"],
      ["4", "5", "6"],
    ]);
  });
});

/** A small generator of noise, the same at every run. */
function noise(seed: number) {
  let state = seed;
  const next = (n: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * n);
  };
  const parts = [
    "1",
    "2.5",
    "0,5",
    ".5",
    ",",
    ".",
    "-",
    "−",
    "+",
    "*",
    "/",
    "(",
    ")",
    " ",
    "\t",
    "e3",
    "x",
    "m",
    "1,000",
    "00",
    "×",
  ];
  return () => Array.from({ length: 1 + next(6) }, () => parts[next(parts.length)]).join("");
}

it("reads noise whole, as the language itself reckons it, or refuses it with a reason", () => {
  const line = noise(7);
  let whole = 0;
  for (let i = 0; i < 20_000; i++) {
    const text = line();
    const read = readAmount(text);
    if ("why" in read) {
      expect(read.why.length).toBeGreaterThan(5);
      continue;
    }
    whole++;
    // A witness that shares nothing with the reader: the language's own arithmetic, on what is only figures and signs.
    const plain = text.replaceAll("−", "-").replaceAll("×", "*").replaceAll(",", ".");
    expect(plain).toMatch(/^[\d.\s+\-*/()e]+$/);
    const spaced = plain.replace(/([-+])/g, " $1 ").replace(/(^|[^\d.])0+(?=\d)/g, "$1");
    expect(read.value).toBeCloseTo(Number(new Function(`return ${spaced}`)()), 9);
  }
  expect(whole).toBeGreaterThan(1000);
});
