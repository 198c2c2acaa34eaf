import { describe, expect, it } from "vitest";
import { amountOf } from "./amount";

describe("an amount", () => {
  it.each([
    ["2.5", 2.5],
    ["-3", -3],
    ["−3", -3],
    ["0,5", 0.5],
    [".5", 0.5],
    ["360/7", 360 / 7],
    ["-4/2", -2],
    ["2*(1+0.5)", 3],
    ["2 × 3", 6],
    ["1-2-3", -4],
    ["12/2/3", 2],
    ["1+2*3", 7],
    ["--2", 2],
    ["1e-3", 0.001],
  ])("reads %s", (text, value) => {
    expect(amountOf(text)).toBeCloseTo(value, 12);
  });

  it.each(["", " ", "abc", "1/0", "1+", "(1", "1)", "2 m", "1..2", "*2", "()"])("refuses %j", (text) => {
    expect(amountOf(text)).toBeNull();
  });
});
