// Measuring: one thing or two, in numbers that the core tells. Nothing of it is a step.
import { Copy, MoveRight, Pin, PinOff } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import type { Asked, DraftSteps, Exercise, Measured, Point, SceneObject } from "../api/types";
import { type SpaceChoice, withAmount } from "../state/sentence";
import { changeSentence, setBench, useBench, useBenchParts } from "../state/store";
import { PointChip, Word } from "../steps/chips";
import { PLACES, placeWords } from "../steps/features";
import { SpaceChip } from "../steps/SpaceChips";
import { spaceOf } from "../steps/spaces";
import { nth } from "../ui/lists";
import { measured } from "../ui/numbers";
import { IconButton } from "../ui/parts";
import { Select } from "../ui/Select";
import { useNewest } from "../ui/useNewest";
import { listOf, type Work } from "./draft";

const WHOLE = "whole";

export type AskMeasures = (
  list: DraftSteps,
  asked: readonly Asked[],
  signal?: AbortSignal,
) => Promise<readonly Measured[]>;

type Thing = Asked["first"];
/** A pinned number: what it is of, and which of its amounts. */
type Pinned = { asked: Asked; what: string };

type Props = {
  ask: AskMeasures;
  work: Work;
  objects: readonly SceneObject[];
  conventions: Exercise["conventions"];
};

export function MeasureCard({ ask, work, objects, conventions }: Props) {
  const chosen = useBench((state) => state.sentence.objects);
  const [first, setFirst] = useState<Thing | null>(null);
  const [second, setSecond] = useState<Thing | null>(null);
  const [pinned, setPinned] = useState<readonly Pinned[]>([]);
  const [one, other] = chosen.slice(-2).reverse();
  const now: Thing | null = first ?? (one ? { object: one } : null);
  const to: Thing | null = second ?? (first === null && other ? { object: other } : null);
  const { directions } = useBenchParts("directions");
  const [space, setSpace] = useState<SpaceChoice>("world");
  const [origin, setOrigin] = useState<Point | null>(null);
  const along = { space: spaceOf(space, directions), origin };
  const asked: Asked[] = now ? [{ first: now, second: to, ...along }] : [];
  const measured = useMeasures(ask, work, [...asked, ...pinned.map((pin) => pin.asked)]);
  const current = now ? measured[0] : undefined;
  useShownPoints(current);
  const words = (asked: Asked) =>
    [asked.first, asked.second].flatMap((thing) => (thing ? [thingWords(thing, objects)] : [])).join(" – ");
  return (
    <div className="flex flex-col gap-2">
      <ThingFields label="Of" objects={objects} value={now} onChange={setFirst} />
      <ThingFields label="To" objects={objects} value={to} onChange={setSecond} none="nothing else" />
      <div className="flex flex-wrap items-center gap-1 text-sm">
        <Word>along</Word>
        <SpaceChip objects={objects} value={space} onChange={setSpace} />
        <Word>from</Word>
        <PointChip
          label="Origin"
          objects={objects}
          on={now?.object}
          value={origin ?? undefined}
          onChange={setOrigin}
          none={{ text: "its origin", take: () => setOrigin(null) }}
        />
      </div>
      {!now && (
        <p className="text-ink-soft">
          Select one object for its sizes, or two for the distance between them.
        </p>
      )}
      {current?.why && <p className="font-semibold text-fail">{current.why}</p>}
      <dl className="flex flex-col">
        {current?.amounts.map((amount) => (
          <Amount
            key={amount.what}
            label={amount.what}
            amount={amount}
            conventions={conventions}
            pinned={false}
            onPin={() => setPinned([...pinned, { asked: nth(asked, 0), what: amount.what }])}
          />
        ))}
      </dl>
      {pinned.length > 0 && (
        <dl aria-label="Pinned" className="flex flex-col border-t border-hairline pt-1">
          {pinned.map((pin, i) => {
            const amount = measured[asked.length + i]?.amounts.find(({ what }) => what === pin.what);
            return (
              <Amount
                key={`${JSON.stringify(pin)}`}
                label={`${words(pin.asked)}: ${pin.what}`}
                amount={amount}
                conventions={conventions}
                pinned
                onPin={() => setPinned(pinned.filter((each) => each !== pin))}
              />
            );
          })}
        </dl>
      )}
    </div>
  );
}

/** What was measured, asked anew when the work or the question changes. */
function useMeasures(ask: AskMeasures, work: Work, asked: readonly Asked[]): readonly Measured[] {
  const key = JSON.stringify(asked);
  const { entries, cursor } = work;
  const question = useMemo(
    () => ({ key, list: { ...listOf(entries.slice(0, cursor)), cursor } }),
    [key, entries, cursor],
  );
  const { of, answer } = useNewest(asked.length > 0 ? question : null, ({ list }, signal) =>
    ask(list, asked, signal),
  );
  return of?.key === key ? (answer ?? []) : [];
}

/** The two points of the distance, drawn in the view while the card is open. */
function useShownPoints(measured: Measured | undefined): void {
  const points = measured?.points ?? null;
  useEffect(() => {
    setBench({ measured: points });
    return () => setBench({ measured: null });
  }, [points]);
}

type FieldProps = {
  label: string;
  objects: readonly SceneObject[];
  value: Thing | null;
  onChange: (thing: Thing | null) => void;
  none?: string;
};

function ThingFields({ label, objects, value, onChange, none }: FieldProps) {
  const item = objects.find((object) => object.id === value?.object);
  const places = ["pivot", ...(item?.local_box ? PLACES : [])];
  return (
    <div className="flex items-center gap-1">
      <span aria-hidden className="w-6 text-sm text-ink-soft">
        {label}
      </span>
      <Select
        label={label}
        className="min-w-0 flex-1"
        value={value?.object ?? ""}
        options={[
          { value: "", text: none ?? "the selection" },
          ...objects.map(({ id, name }) => ({ value: id, text: name })),
        ]}
        onChange={(object) => onChange(object === "" ? null : { object })}
      />
      <Select
        label={`${label}: place on it`}
        className="min-w-0 flex-1"
        disabled={!value}
        value={value?.at ?? WHOLE}
        options={[
          { value: WHOLE, text: "all of it" },
          ...places.map((place) => ({ value: place, text: placeWords(place) })),
        ]}
        onChange={(at) => {
          if (value) onChange(at === WHOLE ? { object: value.object } : { object: value.object, at });
        }}
      />
    </div>
  );
}

function thingWords({ object, at }: Thing, objects: readonly SceneObject[]): string {
  const name = objects.find((item) => item.id === object)?.name ?? object;
  return at ? `${placeWords(at)} of ${name}` : name;
}

type AmountProps = {
  label: string;
  amount: Measured["amounts"][number] | undefined;
  conventions: Exercise["conventions"];
  pinned: boolean;
  onPin: () => void;
};

function Amount({ label, amount, conventions, pinned, onPin }: AmountProps) {
  const take = () => {
    const { sentence } = useBench.getState();
    setBench({ more: null });
    changeSentence(withAmount(sentence, sentence.lit, String(amount?.value ?? "")));
  };
  return (
    <div className="flex items-center gap-1">
      <dt className="min-w-0 flex-1 truncate text-sm" title={label}>
        {label}
      </dt>
      <dd className="font-mono whitespace-nowrap" title={amount && String(amount.value)}>
        {amount ? `${measured(amount.value)} ${unitWords(amount.unit, conventions)}` : "–"}
      </dd>
      <IconButton label={`Use ${label} as amount`} disabled={!amount} onClick={take}>
        <MoveRight size={13} aria-hidden />
      </IconButton>
      <IconButton
        label={`Copy ${label}`}
        disabled={!amount}
        onClick={() => amount && void navigator.clipboard.writeText(String(amount.value))}
      >
        <Copy size={13} aria-hidden />
      </IconButton>
      <IconButton label={pinned ? `Unpin ${label}` : `Pin ${label}`} onClick={onPin}>
        {pinned ? <PinOff size={13} aria-hidden /> : <Pin size={13} aria-hidden />}
      </IconButton>
    </div>
  );
}

function unitWords(unit: string, { length, angle }: Exercise["conventions"]): string {
  if (unit === "angle") return angle === "deg" ? "°" : angle;
  return unit === "length" ? length : unit === "area" ? `${length}²` : `${length}³`;
}
