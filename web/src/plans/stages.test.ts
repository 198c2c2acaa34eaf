import { expect, it } from "vitest";
import type { Finding, Soundness } from "../api/types";
import { STAGES, type StageName, standingOf } from "./StageBar";

const finding = (place: Finding["place"], stops: boolean) =>
  ({ code: "x", text: "", place, stops }) as Finding;
const states = (findings: Finding[], untouched: Soundness["untouched"] = []) => {
  const soundness = { findings, untouched, changes: [], number: 1, classes: [] } as unknown as Soundness;
  return (Object.keys(STAGES) as StageName[]).map((stage) => {
    const stands = standingOf(stage, soundness);
    return stands && (stands.count ? `${stands.how} ${stands.count}` : stands.how);
  });
};

it("says of each stage how it stands, and of a trial nothing", () => {
  expect(states([])).toEqual(["sound", "sound", "sound", null, "sound"]);
  expect(states([finding("brief", false), finding("checks", false), finding("checks", false)])).toEqual([
    "doubt 1",
    "sound",
    "doubt 2",
    null,
    "doubt 3",
  ]);
  expect(states([finding("checks", true), finding("checks", false)])).toEqual([
    "sound",
    "sound",
    "trouble 1",
    null,
    "trouble 1",
  ]);
});

it("says where nothing was done yet, and that nothing is known behind what stops it", () => {
  expect(states([finding("stage", true)], ["stage", "target", "checks"])).toEqual([
    "untouched",
    "untouched",
    "untouched",
    null,
    "trouble 1",
  ]);
  expect(states([finding("target", true)])).toEqual([null, "trouble 1", null, null, "trouble 1"]);
  expect(states([finding("checks", true)], ["checks"])).toEqual([
    "sound",
    "sound",
    "untouched",
    null,
    "trouble 1",
  ]);
});
