import { expect, it } from "vitest";
import { withRule } from "./checks";

const TYPED = { id: "way", kind: "process", rule: "typed", points: 1, zero_at: 1, declared: false } as never;

it("gives each rule of the way what the core asks of it, and takes away what belongs to another", () => {
  const uses = withRule(TYPED, "uses");
  expect(uses).toMatchObject({ rule: "uses", op: "move" });
  expect(withRule({ ...uses, op: "rotate" }, "avoids")).toMatchObject({ rule: "avoids", op: "rotate" });
  const most = withRule(uses, "at_most");
  expect(most).toMatchObject({ rule: "at_most", steps: 5 });
  expect(most).not.toHaveProperty("op");
  expect(withRule(most, "typed")).toEqual(TYPED);
});
