// The library: drafts and published exercises.
import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useId, useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api } from "../api/client";
import type { CreatePlan, ImportedScene, Library } from "../api/types";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { FileButton, PageDrop } from "../ui/FileButton";
import { RowMenu } from "../ui/Menu";
import { counted, dateTime } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button, ErrorNote, Tick } from "../ui/parts";
import { SearchField } from "../ui/SearchField";
import { Cell, Table } from "../ui/table";
import { useSort } from "../ui/useSort";
import { SCENE_KINDS } from "../work/kinds";
import { exerciseIn, saveAs } from "./files";
import { SharingDialog } from "./SharingDialog";

export function Component() {
  return (
    <Page what="library" load={api.library} title={() => "Library"} waiting="Loading the library…">
      {(library) => <LibraryScreen library={library} />}
    </Page>
  );
}

function LibraryScreen({ library }: { library: Library }) {
  const [wanted, setWanted] = useState("");
  const [archivedToo, setArchivedToo] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [imported, setImported] = useState<ImportedScene | null>(null);
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
  const importFile = async (file: File) => {
    const exercise = await exerciseIn(file);
    if (exercise) return create({ ...BLANK, exercise });
    setProblem(null);
    try {
      const scene = await api.importScene(file);
      if (scene.notes.length > 0) setImported(scene);
      else open(scene.plan);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const open = (plan: number) => {
    cache.removeQueries({ queryKey: ["library"] });
    navigate(`/workshop/${plan}/stage`);
  };
  const found = useMemo(() => matching(library, wanted), [library, wanted]);
  const drafts = useMemo(
    () => found.plans.filter((plan) => archivedToo || !plan.archived),
    [found.plans, archivedToo],
  );
  const plans = useSort(drafts, PLAN_KEYS, { by: "Changed", down: true });
  const exercises = useSort(found.exercises, EXERCISE_KEYS, { by: "Exercise", down: false });
  return (
    <main className="mx-auto w-full max-w-6xl space-y-8 overflow-y-auto px-6 py-6">
      <div className="flex flex-wrap items-center gap-3">
        <Button look="main" onClick={() => create(BLANK)}>
          New exercise
        </Button>
        <FileButton
          text="Import a file"
          accept={SCENE_KINDS}
          onFiles={([file]) => file && void importFile(file)}
        />
        <PageDrop text="Drop to import this file" onFiles={([file]) => file && void importFile(file)} />
        <SearchField
          label="Search titles and skills"
          value={wanted}
          onChange={setWanted}
          className="ml-auto w-72"
        />
      </div>
      {problem && <ErrorNote text={problem} />}
      {imported && <ImportNotes scene={imported} onOpen={open} />}
      <section>
        <Table
          caption="Drafts"
          heads={["Plan", "Contents", "Changed", ""]}
          sort={{ ...plans.sort, heads: Object.keys(PLAN_KEYS), onSort: plans.onSort }}
        >
          {plans.sorted.map((plan) => (
            <tr key={plan.plan} className="border-b border-hairline">
              <Cell>
                <Name to={`/workshop/${plan.plan}/stage`}>{plan.title || UNTITLED}</Name>
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
                <PlanMenu plan={plan} onCopy={() => create({ ...BLANK, from_plan: plan.plan })} />
              </Cell>
            </tr>
          ))}
        </Table>
        {drafts.length === 0 && (
          <p className="py-2 text-ink-soft">
            {wanted
              ? "No plan with this name."
              : "No plans yet. Start a new exercise, or copy one from below."}
          </p>
        )}
        {library.plans.some((plan) => plan.archived) && (
          <div className="mt-2">
            <Tick id={`${ids}away`} text="Show archived" on={archivedToo} onChange={setArchivedToo} />
          </div>
        )}
      </section>
      <section>
        <Table
          caption="Published"
          heads={["Start and target", "Exercise", "Skills", "Versions", "Passed", ""]}
          sort={{ ...exercises.sort, heads: Object.keys(EXERCISE_KEYS), onSort: exercises.onSort }}
        >
          {exercises.sorted.map((row) => {
            const newest = row.versions.at(-1)!;
            return (
              <tr key={row.exercise} className="border-b border-hairline">
                <Cell>
                  <img
                    src={`/api/versions/${newest.id}/drawing`}
                    alt=""
                    loading="lazy"
                    className="h-10 w-32 max-w-none max-md:h-7 max-md:w-22"
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
                      {version.assigned_to.length > 0 && (
                        <span className="text-sm text-ink-soft">
                          {" "}
                          assigned to {version.assigned_to.join(", ")}
                        </span>
                      )}
                    </div>
                  ))}
                </Cell>
                <Cell>
                  <span className="font-mono whitespace-nowrap">
                    {row.submitted > 0 ? `${row.passed} of ${row.submitted}` : "–"}
                  </span>
                </Cell>
                <Cell right>
                  <RowMenu
                    label={`Actions for ${row.title}`}
                    items={[
                      {
                        text: "New version",
                        act: () => void create({ ...BLANK, from_version: newest.id }),
                      },
                      {
                        text: "Copy as a new exercise",
                        act: () => void create({ ...BLANK, from_version: newest.id, copy_of_it: true }),
                      },
                      {
                        text: "Download",
                        act: () =>
                          void api
                            .versionDocument(newest.id)
                            .then((file) => saveAs(`${row.exercise}-${newest.number}`, file)),
                      },
                    ]}
                  />
                </Cell>
              </tr>
            );
          })}
        </Table>
      </section>
    </main>
  );
}

/** What an import left out, changed or guessed, before the plan opens. */
function ImportNotes({ scene, onOpen }: { scene: ImportedScene; onOpen: (plan: number) => void }) {
  const { plan, notes } = scene;
  return (
    <Dialog
      open
      onClose={() => onOpen(plan)}
      title="Import notes"
      text="To correct axes or unit, use the scene card and “Keep the numbers”."
    >
      <ul className="mt-3 list-disc space-y-0.5 pl-5 wrap-anywhere">
        {notes.map((note) => (
          <li key={note}>{note}</li>
        ))}
      </ul>
      <DialogButtons>
        <Button look="main" onClick={() => onOpen(plan)}>
          Open the plan
        </Button>
      </DialogButtons>
    </Dialog>
  );
}

const PLAN_KEYS = {
  Plan: (plan: Library["plans"][number]) => plan.title || UNTITLED,
  Changed: (plan: Library["plans"][number]) => plan.saved_at,
};

const EXERCISE_KEYS = {
  Exercise: (row: Library["exercises"][number]) => row.title,
  Versions: (row: Library["exercises"][number]) => row.versions.length,
  Passed: (row: Library["exercises"][number]) => (row.submitted > 0 ? row.passed / row.submitted : null),
};

const UNTITLED = "Untitled exercise";
const BLANK = { title: "", copy_of_it: false } satisfies CreatePlan;

function matching({ plans, exercises }: Library, wanted: string): Library {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const has = (text: string) => words.every((word) => text.toLowerCase().includes(word));
  return {
    plans: plans.filter((plan) => has(plan.title)),
    exercises: exercises.filter((row) => has(`${row.title} ${row.trains.join(" ")}`)),
  };
}

function PlanMenu({ plan, onCopy }: { plan: Library["plans"][number]; onCopy: () => void }) {
  const cache = useQueryClient();
  const [sharing, setSharing] = useState(false);
  const title = plan.title || UNTITLED;
  const archive = () =>
    void api
      .setArchived(plan.plan, !plan.archived)
      .then(() => cache.invalidateQueries({ queryKey: ["library"] }));
  return (
    <>
      <RowMenu
        label={`Actions for ${title}`}
        items={[
          ...(plan.own ? [{ text: "Share…", act: () => setSharing(true) }] : []),
          { text: "Copy", act: onCopy },
          ...(plan.own ? [{ text: plan.archived ? "Restore" : "Archive", act: archive }] : []),
        ]}
      />
      {sharing && <SharingDialog plan={plan.plan} title={title} onClose={() => setSharing(false)} />}
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
