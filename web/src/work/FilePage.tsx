// A file before it is submitted: its picture in the exercise's axes, its matching and its import notes.
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { SceneMatch, UploadedFile } from "../api/types";
import { choices, choose, FOUND_BY, isSure } from "../ui/matches";
import { counted, dateTime } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button, ErrorNote, Heading } from "../ui/parts";
import { Select } from "../ui/Select";
import { HeadTools } from "../ui/Shell";
import { ActionLink } from "../ui/table";
import { useNumber } from "../ui/useNumber";
import { useShapes } from "../view3d/context";
import { SceneView } from "../view3d/SceneView";
import { type Asked, type AskedName, ConventionChips, saidWords } from "./ConventionChips";

export function Component() {
  const assignment = useNumber("assignment") ?? 0;
  return (
    <Page
      what="file"
      by="file"
      students
      kept="while open"
      load={(file) => api.file(assignment, file, {})}
      title={(file) => file?.name ?? "File"}
      trail={(file) => [{ to: `/bench/${file.assignment}`, text: file.exercise.title }]}
      waiting="Reading the file…"
    >
      {(file) => <FileScreen first={file} />}
    </Page>
  );
}

const NAMES = ["up", "handedness", "length"] as const satisfies readonly AskedName[];
type ByHand = readonly (readonly [target: string, submitted: string])[];

function FileScreen({ first }: { first: UploadedFile }) {
  const [chosen, setChosen] = useState<Asked | null>(null);
  const [byHand, setByHand] = useState<ByHand>([]);
  const [row, setRow] = useState<string | null>(null);
  const found = useQuery({
    queryKey: ["file in", first.file, chosen],
    queryFn: () => api.file(first.assignment, first.file, chosen ?? {}),
    enabled: chosen !== null,
    placeholderData: keepPreviousData,
  });
  const file = (chosen && found.data) || first;
  const matches = useMemo(
    () =>
      byHand.reduce((before, [target, submitted]) => choose(before, target, submitted), [...file.matches]),
    [file.matches, byHand],
  );
  const take = (target: string, submitted: string) => setByHand((before) => [...before, [target, submitted]]);
  const pick = (id: string | null) => {
    if (id === null) return setRow(null);
    if (row !== null) return take(row, id);
    setRow(matches.find((match) => match.submitted === id)?.target ?? null);
  };
  const lit = matches.find((match) => match.target === row)?.submitted ?? null;
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_26rem] cramped:flex cramped:flex-col cramped:overflow-y-auto">
      <HeadTools>
        <ActionLink to={`/bench/${file.assignment}`}>Open the bench</ActionLink>
        <SubmitButton
          file={file}
          chosen={chosen}
          matches={byHand.length > 0 ? matches : []}
          busy={found.isFetching}
        />
      </HeadTools>
      <Picture file={file} lit={lit} onPick={file.kind === "scene" ? pick : undefined} />
      <div className="min-h-0 space-y-5 overflow-y-auto border-l border-hairline bg-sheet p-5 wrap-anywhere cramped:shrink-0">
        {found.error && <ErrorNote text={found.error.message} />}
        <Conventions file={file} value={chosen ?? (file.conventions as Asked)} onChange={setChosen} />
        <Notes notes={file.notes} />
        {file.kind === "scene" ? (
          <Matching file={file} matches={matches} row={row} onRow={setRow} onTake={take} />
        ) : (
          <p>
            {file.kind === "steps"
              ? "The file holds steps. The picture shows where they lead."
              : "The file holds numbers. Objects it leaves out keep their start values."}
          </p>
        )}
        <p className="text-sm text-ink-soft">Due {dateTime(file.due_at)}</p>
      </div>
    </main>
  );
}

// What is given and wanted stays in sight, so that a wrong unit or axis is seen.
const FIT = { what: "exercise", turn: 0 } as const;
const NONE: ReadonlySet<string> = new Set();

type PictureProps = {
  file: UploadedFile;
  lit: string | null;
  onPick: ((id: string | null) => void) | undefined;
};

function Picture({ file, lit, onPick }: PictureProps) {
  const shapes = useShapes(file.objects, file.exercise.conventions.up);
  return (
    <div className="relative min-h-0 min-w-0 cramped:h-[max(14rem,50vh)] cramped:shrink-0">
      <SceneView
        exercise={file.exercise}
        objects={file.objects}
        poses={file.placed}
        shapes={shapes}
        chosen={lit === null ? [] : [lit]}
        {...(onPick ? { onChoose: onPick } : {})}
        passing={NONE}
        lit={NONE}
        fit={FIT}
        label={`What is in ${file.name}, with the target as a dashed outline`}
      />
    </div>
  );
}

function Conventions({
  file,
  value,
  onChange,
}: {
  file: UploadedFile;
  value: Asked;
  onChange: (value: Asked) => void;
}) {
  const asked = file.asked as AskedName[];
  const said = NAMES.filter((name) => !asked.includes(name));
  if (file.kind === "steps") return null;
  return (
    <section aria-label="Axes and unit">
      <Heading>Axes and unit</Heading>
      {asked.length > 0 && (
        <>
          <p className="mb-2">
            The file does not state {asked.length === NAMES.length ? "them" : "all of them"}. Does the picture
            look right?
          </p>
          <ConventionChips asked={asked} value={value} onChange={onChange} />
        </>
      )}
      {said.length > 0 && (
        <p className={asked.length > 0 ? "mt-2 text-ink-soft" : ""}>
          {saidWords(file.conventions as Asked, said)}, as stated in the file.
        </p>
      )}
    </section>
  );
}

function Notes({ notes }: { notes: readonly string[] }) {
  if (notes.length === 0) return null;
  return (
    <section>
      <Heading>Import notes</Heading>
      <ul className="list-disc space-y-0.5 pl-5">
        {notes.map((note) => (
          <li key={note}>{note}</li>
        ))}
      </ul>
    </section>
  );
}

type MatchingProps = {
  file: UploadedFile;
  matches: readonly SceneMatch[];
  row: string | null;
  onRow: (target: string | null) => void;
  onTake: (target: string, submitted: string) => void;
};

/** What is to be looked at comes first, then what is to be moved. */
function rowsOf(file: UploadedFile): string[] {
  const locked = new Set(file.exercise.objects.flatMap((item) => (item.locked ? [item.id] : [])));
  const rank = (match: SceneMatch) => (isSure(match) ? 1 : 0) + (locked.has(match.target) ? 1 : 0);
  return file.matches.toSorted((a, b) => rank(a) - rank(b)).map((match) => match.target);
}

/** The matching of the file, in a list and in the picture; either corrects it. */
function Matching({ file, matches, row, onRow, onTake }: MatchingProps) {
  // The order stays while one corrects: it is that of what was found.
  const order = useMemo(() => rowsOf(file), [file]);
  const options = useMemo(
    () => choices(Object.fromEntries(file.objects.map((item) => [item.id, item.name]))),
    [file.objects],
  );
  const rows = order.flatMap((target) => matches.find((match) => match.target === target) ?? []);
  const unsure = rows.filter((match) => !isSure(match)).length;
  const name = rows.find((match) => match.target === row)?.name;
  if (rows.length === 0) return null; // the target is not shown while there is something left to try
  return (
    <section aria-label="Matching">
      <Heading>Matching</Heading>
      <p role="status" className="mb-2 min-h-10">
        {name
          ? `Click ${name} in the picture, or choose it from the list.`
          : unsure > 0
            ? `${counted(unsure, "object")} guessed or not found. An object that is not in the file misses its checks.`
            : "Every object was found. Select one to see it or to match another object."}
      </p>
      <ul>
        {rows.map((match) => (
          <li
            key={match.target}
            className={`grid grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)] items-center gap-x-2 border-b border-hairline py-1 ${match.target === row ? "bg-plum-soft" : ""}`}
          >
            <button
              type="button"
              aria-pressed={match.target === row}
              onClick={() => onRow(match.target === row ? null : match.target)}
              className="truncate rounded-sm px-1 text-left font-semibold hover:underline"
            >
              {match.name}
            </button>
            <Select
              label={`${match.name} in the file`}
              value={match.submitted ?? ""}
              options={[
                { value: "", text: "not in the file" },
                ...options.map(({ id, text }) => ({ value: id, text })),
              ]}
              onChange={(submitted) => onTake(match.target, submitted)}
              className="w-full"
            />
            {match.by !== "name" && (
              <span
                className={`col-start-2 text-sm ${isSure(match) ? "text-ink-soft" : "font-semibold text-near"}`}
              >
                {match.by ? FOUND_BY[match.by] : "✕ not found"}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

type HandInProps = {
  file: UploadedFile;
  chosen: Asked | null;
  /** As they are shown, where some were corrected, so that nothing is found otherwise for that. */
  matches: readonly SceneMatch[];
  busy: boolean;
};

function SubmitButton({ file, chosen, matches, busy }: HandInProps) {
  const [handing, setHanding] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const cache = useQueryClient();
  const handIn = async () => {
    setHanding(true);
    setProblem(null);
    try {
      const { submission } = await api.submitFile(file.assignment, file.file, {
        conventions: chosen ?? {},
        matches: Object.fromEntries(matches.map((match) => [match.target, match.submitted])),
      });
      cache.removeQueries({ queryKey: ["home"] });
      navigate(`/result/${submission}`);
    } catch (error) {
      setProblem((error as Error).message);
      setHanding(false);
    }
  };
  return (
    <>
      {problem && (
        <span role="alert" className="max-w-md text-sm text-fail">
          {problem}
        </span>
      )}
      <Button look="main" disabled={busy || handing} onClick={handIn}>
        {handing ? "Submitting…" : "Submit"}
      </Button>
    </>
  );
}
