// The student's working screen: the workbench with the brief, saved as one goes, handed in.
import { useMemo, useState } from "react";
import Markdown from "react-markdown";
import { api } from "../api/client";
import type { Bench } from "../api/types";
import { TwoWindows } from "../desk/TwoWindows";
import { useDraft } from "../desk/useDraft";
import { FileChooser } from "../files/FileChooser";
import { givenIn, sceneAt, TakeAway } from "../files/TakeAway";
import { placeOf } from "../saving/copies";
import { LeaveDialog } from "../saving/LeaveDialog";
import { SavedMark } from "../saving/SavedMark";
import { dateTime } from "../ui/numbers";
import { Page } from "../ui/Page";
import { usePerson } from "../ui/session";
import { Workbench } from "../workbench/Workbench";
import { HandIn } from "./HandIn";

export function Component() {
  return (
    <Page
      what="bench"
      by="assignment"
      students
      kept="while open" // once open, the draft on the screen is the newest there is
      load={api.bench}
      title={(bench) => bench?.exercise.title ?? "Bench"}
      waiting="Laying out the bench…"
    >
      {(bench) => <BenchScreen bench={bench} />}
    </Page>
  );
}

function BenchScreen({ bench }: { bench: Bench }) {
  const person = usePerson().sign_in;
  const { assignment, exercise } = bench;
  const desk = useMemo(() => api.benchDesk(assignment), [assignment]);
  const place = placeOf("draft", person, assignment);
  const draft = useDraft({ desk, exercise, draft: bench.draft, person, place });
  const [handingIn, setHandingIn] = useState(false);
  const brief = useMemo(() => [{ name: "Brief", body: <Brief bench={bench} /> }], [bench]);
  const sources = useMemo(
    () => [
      ...givenIn(assignment, exercise),
      { name: "My work as it stands", address: sceneAt(assignment, "work") },
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
            <TakeAway sources={sources} conventions={exercise.conventions} />
            <FileChooser assignment={assignment} />
            <HandIn bench={bench} draft={draft} asking={handingIn} onAsk={setHandingIn} />
          </>
        }
        onFinish={() => setHandingIn(draft.work.cursor > 0)}
      />
      <TwoWindows draft={draft} />
      <LeaveDialog
        unkept={draft.dirty}
        title="Not saved yet"
        text="The server does not have your last steps yet. They stay in this browser and are saved when you come back."
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
