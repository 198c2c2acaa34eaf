// The library: plans in the making and published exercises; a new plan begins here.
import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useId, useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api } from "../api/client";
import type { BroughtScene, CreatePlan, Library } from "../api/types";
import { SCENE_KINDS } from "../files/kinds";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { counted, dateTime } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button, ErrorNote, Tick } from "../ui/parts";
import { Cell, Table } from "../ui/table";
import { exerciseIn, saveAs } from "./files";
import { SharingDialog } from "./SharingDialog";

export function Component() {
  return (
    <Page what="library" load={api.library} title={() => "Workshop"} waiting="Fetching the library…">
      {(library) => <LibraryScreen library={library} />}
    </Page>
  );
}

function LibraryScreen({ library }: { library: Library }) {
  const [wanted, setWanted] = useState("");
  const [away, setAway] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [brought, setBrought] = useState<BroughtScene | null>(null);
  const ids = useId();
  const navigate = useNavigate();
  const cache = useQueryClient();
  const create = async (body: CreatePlan) => {
    setProblem(null);
    try {
      open((await api.createPlan(body)).plan);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const bring = async (file: File) => {
    const exercise = await exerciseIn(file);
    if (exercise) return create({ ...BLANK, exercise });
    setProblem(null);
    try {
      setBrought(await api.bringScene(file));
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const open = (plan: number) => {
    cache.removeQueries({ queryKey: ["library"] });
    navigate(`/workshop/${plan}/stage`);
  };
  const found = useMemo(() => matching(library, wanted), [library, wanted]);
  const plans = found.plans.filter((plan) => away || !plan.archived);
  return (
    <main className="mx-auto w-full max-w-6xl space-y-8 overflow-y-auto px-6 py-6">
      <div className="flex flex-wrap items-center gap-3">
        <Button look="main" onClick={() => create(BLANK)}>
          New exercise
        </Button>
        <label
          htmlFor={`${ids}file`}
          className="inline-flex h-8 cursor-pointer items-center rounded-md border border-edge bg-sheet px-3 focus-within:outline-2 hover:bg-well"
        >
          Bring in a file
          <input
            id={`${ids}file`}
            type="file"
            accept={SCENE_KINDS.join(",")}
            className="sr-only"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void bring(file);
              event.target.value = "";
            }}
          />
        </label>
        <input
          type="search"
          aria-label="Search the library"
          placeholder="Search: a title, or what is trained"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
          className="ml-auto h-8 w-72 rounded-md border border-edge bg-sheet px-2"
        />
      </div>
      {problem && <ErrorNote text={problem} />}
      {brought && <Brought brought={brought} onOpen={open} />}
      <section>
        <Table caption="In the making" heads={["Plan", "What it has", "Changed", ""]}>
          {plans.map((plan) => (
            <tr key={plan.plan} className="border-b border-hairline">
              <Cell>
                <Name to={`/workshop/${plan.plan}/stage`}>{plan.title || "Untitled exercise"}</Name>
                <Small>
                  {[
                    !plan.own && `by ${plan.owner}`,
                    !plan.may_edit && "view only",
                    plan.shared > 0 && "shared",
                    plan.archived && "archived",
                  ]
                    .filter(Boolean)
                    .join(", ")}
                </Small>
              </Cell>
              <Cell>
                {counted(plan.reference, "step")} to the target, {counted(plan.checks, "check")}
              </Cell>
              <Cell>{dateTime(plan.saved_at)}</Cell>
              <Cell right>
                {plan.own && <StandingButtons plan={plan} />}
                <Button className="ml-2" onClick={() => create({ ...BLANK, from_plan: plan.plan })}>
                  Copy
                </Button>
              </Cell>
            </tr>
          ))}
        </Table>
        {plans.length === 0 && (
          <p className="py-2 text-ink-soft">
            {wanted ? "No plan is called so." : "No plan yet. Begin a new exercise, or copy one from below."}
          </p>
        )}
        {library.plans.some((plan) => plan.archived) && (
          <div className="mt-2">
            <Tick id={`${ids}away`} text="Show archived" on={away} onChange={setAway} />
          </div>
        )}
      </section>
      <section>
        <Table
          caption="Published"
          heads={["Given, and target", "Exercise", "Trains", "Versions", "Passed", ""]}
        >
          {found.exercises.map((row) => {
            const newest = row.versions.at(-1)!;
            return (
              <tr key={row.exercise} className="border-b border-hairline">
                <Cell>
                  <img
                    src={`/api/versions/${newest.id}/drawing`}
                    alt=""
                    loading="lazy"
                    className="h-14 w-44 max-w-none max-md:h-7 max-md:w-22"
                  />
                </Cell>
                <Cell>
                  <span className="font-semibold">{row.title}</span>
                </Cell>
                <Cell>
                  <Small>{row.trains.join(", ") || "–"}</Small>
                </Cell>
                <Cell>
                  {row.versions.map((version) => (
                    <div key={version.id}>
                      {version.number}
                      {version.set_for.length > 0 && (
                        <span className="text-sm text-ink-soft"> set for {version.set_for.join(", ")}</span>
                      )}
                    </div>
                  ))}
                </Cell>
                <Cell>
                  <span className="font-mono whitespace-nowrap">
                    {row.handed_in > 0 ? `${row.passed} of ${row.handed_in}` : "–"}
                  </span>
                </Cell>
                <Cell right>
                  <Button onClick={() => create({ ...BLANK, from_version: newest.id, copy_of_it: true })}>
                    Copy
                  </Button>
                  <Button className="ml-2" onClick={() => create({ ...BLANK, from_version: newest.id })}>
                    Next version
                  </Button>
                  <Button
                    className="ml-2"
                    onClick={() =>
                      void api
                        .versionDocument(newest.id)
                        .then((file) => saveAs(`${row.exercise}-${newest.number}`, file))
                    }
                  >
                    File
                  </Button>
                </Cell>
              </tr>
            );
          })}
        </Table>
      </section>
    </main>
  );
}

/** What came of a scene from elsewhere, before one goes on with it. */
function Brought({ brought, onOpen }: { brought: BroughtScene; onOpen: (plan: number) => void }) {
  const { plan, notes } = brought;
  useEffect(() => {
    if (notes.length === 0) onOpen(plan);
  });
  return (
    <Dialog
      open={notes.length > 0}
      onClose={() => onOpen(plan)}
      title="What was left out, changed or guessed"
      text="Axes and unit can be set right on the scene card, with “keep the numbers”."
    >
      <ul className="mt-3 list-disc space-y-0.5 pl-5 wrap-anywhere">
        {notes.map((note) => (
          <li key={note}>{note}</li>
        ))}
      </ul>
      <DialogButtons>
        <Button look="main" onClick={() => onOpen(plan)}>
          Open the stage
        </Button>
      </DialogButtons>
    </Dialog>
  );
}

const BLANK = { title: "", copy_of_it: false } satisfies CreatePlan;

function matching({ plans, exercises }: Library, wanted: string): Library {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const has = (text: string) => words.every((word) => text.toLowerCase().includes(word));
  return {
    plans: plans.filter((plan) => has(plan.title)),
    exercises: exercises.filter((row) => has(`${row.title} ${row.trains.join(" ")}`)),
  };
}

function StandingButtons({ plan }: { plan: Library["plans"][number] }) {
  const cache = useQueryClient();
  const [sharing, setSharing] = useState(false);
  return (
    <>
      <Button onClick={() => setSharing(true)}>Share…</Button>
      <Button
        className="ml-2"
        onClick={() =>
          api
            .setArchived(plan.plan, !plan.archived)
            .then(() => cache.invalidateQueries({ queryKey: ["library"] }))
        }
      >
        {plan.archived ? "Restore" : "Archive"}
      </Button>
      {sharing && (
        <SharingDialog
          plan={plan.plan}
          title={plan.title || "Untitled exercise"}
          onClose={() => setSharing(false)}
        />
      )}
    </>
  );
}

function Name({ to, children }: { to: string; children: ReactNode }) {
  return (
    <Link to={to} className="font-semibold text-plum underline-offset-2 hover:underline">
      {children}
    </Link>
  );
}

function Small({ children }: { children: ReactNode }) {
  return <div className="text-sm text-ink-soft">{children}</div>;
}
