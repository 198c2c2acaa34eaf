// The student's working screen: the workbench with the brief, saved as one goes, submitted.
import { useMemo, useState } from "react";
import Markdown from "react-markdown";
import { api } from "../api/client";
import type { Bench } from "../api/types";
import { ConflictDialog } from "../editing/ConflictDialog";
import { useDraft } from "../editing/useDraft";
import { placeOf } from "../saving/copies";
import { LeaveDialog } from "../saving/LeaveDialog";
import { SavedMark } from "../saving/SavedMark";
import { dateTime } from "../ui/numbers";
import { Page } from "../ui/Page";
import { usePerson } from "../ui/session";
import { Workbench } from "../workbench/Workbench";
import { DownloadDialog, givenIn, sceneAt } from "./DownloadDialog";
import { FileChooser } from "./FileChooser";
import { SubmitButton } from "./SubmitButton";

export function Component() {
  return (
    <Page
      what="bench"
      by="assignment"
      students
      kept="while open" // once open, the draft on the screen is the newest there is
      load={api.bench}
      title={(bench) => bench?.exercise.title ?? "Bench"}
      waiting="Loading the bench…"
    >
      {(bench) => <BenchScreen bench={bench} />}
    </Page>
  );
}

function BenchScreen({ bench }: { bench: Bench }) {
  const person = usePerson().sign_in;
  const { assignment, exercise } = bench;
  const editor = useMemo(() => api.benchEditor(assignment), [assignment]);
  const place = placeOf("draft", person, assignment);
  const draft = useDraft({ editor, exercise, draft: bench.draft, person, place });
  const [handingIn, setHandingIn] = useState(false);
  const brief = useMemo(() => [{ name: "Brief", body: <Brief bench={bench} /> }], [bench]);
  const sources = useMemo(
    () => [
      ...givenIn(assignment, exercise),
      { name: "My work so far", address: sceneAt(assignment, "work") },
    ],
    [assignment, exercise],
  );
  return (
    <>
      <Workbench
        exercise={bench.exercise}
        control={draft}
        about={brief}
        state={<SavedMark saving={draft.saving} savedAt={draft.work.savedAt} />}
        finish={
          <>
            <DownloadDialog sources={sources} conventions={exercise.conventions} />
            <FileChooser assignment={assignment} />
            <SubmitButton bench={bench} draft={draft} asking={handingIn} onAsk={setHandingIn} />
          </>
        }
        onFinish={() => setHandingIn(draft.work.cursor > 0)}
      />
      <ConflictDialog draft={draft} />
      <LeaveDialog
        unkept={draft.dirty}
        title="Not saved yet"
        text="Your last steps are not on the server yet. They stay in this browser and are saved when you come back."
      />
    </>
  );
}

function Brief({ bench }: { bench: Bench }) {
  return (
    <>
      <div className="brief">
        <Markdown>{bench.exercise.brief}</Markdown>
      </div>
      <p className="text-sm text-ink-soft">Due {dateTime(bench.due_at)}</p>
    </>
  );
}
