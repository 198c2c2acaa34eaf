// One check in the table: what it is of in words, how exactly, and what else belongs to its kind.
import { Trash2 } from "lucide-react";
import { useId } from "react";
import type { Check, CheckResult, Exercise, SceneObject } from "../api/types";
import { AXIS_OPS, MORE_OPS } from "../steps/registry";
import { short } from "../ui/numbers";
import { IconButton, VerdictMark } from "../ui/parts";
import { TypedNumber } from "../ui/TypedNumber";
import { KINDS, POINT_OPTIONS, toleranceOf, unitOf, withRule, wordsOf } from "./checks";
import { Field, ListField, same } from "./fields";

type Props = {
  check: Check;
  results: readonly CheckResult[];
  conventions: Exercise["conventions"];
  objects: readonly SceneObject[];
  lit: boolean;
  idle: boolean;
  fine: boolean;
  onLight: () => void;
  onChange: (check: Check) => void;
  onRemove: () => void;
};

const NUMBER = "h-8 w-20 rounded-md border border-edge bg-sheet px-1.5 text-right font-mono";

export function CheckRow(props: Props) {
  const { check, results, conventions, lit, idle, fine, onLight, onChange, onRemove } = props;
  const ids = useId();
  const tolerance = toleranceOf(check);
  const result = results.find((each) => each.id === check.id);
  const words = wordsOf(check, results);
  return (
    <li className={`border-b border-hairline px-2 py-1.5 ${lit ? "bg-plum-soft" : ""}`}>
      <div className="flex flex-wrap items-center gap-2">
        <button
          type="button"
          aria-expanded={lit}
          onClick={onLight}
          className={`min-w-40 flex-1 rounded-sm text-left ${lit ? "font-semibold text-plum" : ""}`}
        >
          {words}
          <span className="block text-sm font-normal text-ink-soft">{KINDS[check.kind]}</span>
        </button>
        {tolerance !== null && (
          <span className="flex flex-wrap items-center gap-1">
            ±
            <TypedNumber
              id={`${ids}tolerance`}
              label={`Tolerance of ${words}`}
              shown={short(tolerance)}
              onTake={(next) => next >= 0 && onChange({ ...check, tolerance: next } as Check)}
              className={NUMBER}
            />
            <span className="w-20 text-sm text-ink-soft">{unitOf(check, conventions)}</span>
          </span>
        )}
        <span className="flex items-center gap-1">
          <TypedNumber
            id={`${ids}points`}
            label={`Points of ${words}`}
            shown={short(check.points)}
            onTake={(points) => points >= 0 && onChange({ ...check, points } as Check)}
            className="h-8 w-12 rounded-md border border-edge bg-sheet px-1.5 text-right font-mono"
          />
          <span className="text-sm text-ink-soft">{check.points === 1 ? "point" : "points"}</span>
        </span>
        <IconButton label={`Remove ${words}`} onClick={onRemove}>
          <Trash2 size={15} aria-hidden />
        </IconButton>
      </div>
      {lit && <Details {...props} />}
      {result && result.verdict !== "pass" && (
        <p className="text-sm">
          <VerdictMark verdict={result.verdict} /> The reference itself: {result.text}
        </p>
      )}
      {idle && (
        <p className="text-sm text-near">≈ No typical mistake fails it: leave it out, or tighten it.</p>
      )}
      {fine && <p className="text-sm text-near">≈ Finer than a drag can do: widen it, or ask for typing.</p>}
    </li>
  );
}

const SPACES = [
  { value: "world", text: "World" },
  { value: "parent", text: "Parent" },
  { value: "local", text: "Local" },
];
const ALIKE = [
  { value: "strict", text: "as it is turned" },
  { value: "look", text: "as it looks" },
];
const RELATIONS = [
  { value: "rests_on", text: "rests on" },
  { value: "touches", text: "touches" },
  { value: "clear_of", text: "is clear of" },
  { value: "centred_on", text: "is centred on" },
];
const RULES = [
  { value: "typed", text: "every step is typed" },
  { value: "uses", text: "some step is so" },
  { value: "avoids", text: "no step is so" },
  { value: "at_most", text: "at most so many steps" },
];

/** What else belongs to a check of its kind. */
function Details({ check, objects, onChange }: Props) {
  const ids = useId();
  const set = (part: object) => onChange({ ...check, ...part } as Check);
  return (
    <div className="mt-1 grid grid-cols-3 gap-x-2">
      {check.kind === "position" && (
        <>
          <ListField
            label="Point"
            value={check.point}
            options={withOwn(POINT_OPTIONS, check.point)}
            onChange={(point) => set({ point })}
          />
          <ListField
            label="Measured"
            value={check.measure}
            options={[
              { value: "each", text: "along each axis" },
              { value: "distance", text: "as one distance" },
            ]}
            onChange={(measure) => set({ measure })}
          />
        </>
      )}
      {"space" in check && typeof check.space === "string" && check.kind !== "process" && (
        <ListField
          label="In space"
          value={check.space}
          options={SPACES}
          onChange={(space) => set({ space })}
        />
      )}
      {"symmetry" in check && (
        <ListField
          label="Counts"
          value={check.symmetry}
          options={ALIKE}
          onChange={(symmetry) => set({ symmetry })}
        />
      )}
      {check.kind === "relation" && (
        <>
          <ListField
            label="It"
            value={check.relation}
            options={withOwn(RELATIONS, check.relation)}
            onChange={(relation) => set({ relation })}
          />
          <ListField
            label="The other"
            value={check.other ?? ""}
            options={[
              { value: "ground", text: "the ground" },
              ...objects.map((item) => ({ value: item.id, text: item.name })),
            ]}
            onChange={(other) => set({ other })}
          />
        </>
      )}
      {check.kind === "process" && (
        <>
          <ListField
            label="Rule"
            value={check.rule}
            options={withOwn(RULES, check.rule)}
            onChange={(rule) => onChange(withRule(check, rule))}
          />
          {check.op && (
            <ListField
              label="Kind of step"
              value={check.op}
              options={same([...AXIS_OPS, ...MORE_OPS])}
              onChange={(op) => set({ op })}
            />
          )}
          {typeof check.steps === "number" && (
            <Field label="Steps at most">
              <TypedNumber
                id={`${ids}steps`}
                label="Steps at most"
                shown={String(check.steps)}
                onTake={(steps) => Number.isInteger(steps) && steps >= 0 && set({ steps })}
                className={NUMBER}
              />
            </Field>
          )}
        </>
      )}
      <ListField
        label="No points from"
        value={String(check.zero_at)}
        options={withOwn(
          [
            { value: "1", text: "the tolerance on" },
            { value: "2", text: "2 tolerances off" },
            { value: "3", text: "3 tolerances off" },
            { value: "5", text: "5 tolerances off" },
          ],
          String(check.zero_at),
        )}
        onChange={(value) => set({ zero_at: Number(value) })}
      />
    </div>
  );
}

/** A list that has what stands there too, where a file said something else than the list offers. */
function withOwn(options: readonly { value: string; text: string }[], own: string) {
  return options.some((option) => option.value === own) ? options : [...options, { value: own, text: own }];
}
