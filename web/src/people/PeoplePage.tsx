// The people of a class: members, adding people, passwords, moving and removing.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { ClassPage, Member, Slip } from "../api/types";
import { classTrail } from "../ui/Crumbs";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { Menu } from "../ui/Menu";
import { counted, dateTime } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button, Heading } from "../ui/parts";
import { Select } from "../ui/Select";
import { Cell, Table } from "../ui/table";
import { AddPeople } from "./AddPeople";
import { ClassDialog } from "./ClassDialog";
import { ClassNav } from "./ClassNav";
import { JoinCodes } from "./JoinCodes";
import { Members } from "./Members";
import { Slips } from "./Slips";

export function Component() {
  return (
    <Page
      what="class"
      by="class"
      load={api.class}
      title={() => "People"}
      trail={(page) => classTrail({ class_id: page.id, class_name: page.name })}
      waiting="Loading people…"
    >
      {(page) => <People page={page} />}
    </Page>
  );
}

type MemberAction = { what: "leave" | "erase" | "move"; members: readonly Member[] };
export type Asked = MemberAction | { what: "bring" | "rename" | "archive" };

function People({ page }: { page: ClassPage }) {
  const cache = useQueryClient();
  const [asked, setAsked] = useState<Asked | null>(null);
  const [slips, setSlips] = useState<readonly Slip[]>([]);
  const [notice, setNotice] = useState("");
  const navigate = useNavigate();
  const again = () => cache.invalidateQueries({ queryKey: ["class", page.id] });
  const done = async (words: string) => {
    setAsked(null);
    setNotice(words);
    await again();
  };
  const act = (what: Promise<unknown>, words: string) =>
    void what.then(() => done(words)).catch((error: Error) => setNotice(error.message));
  const archive = (archived: boolean) => {
    for (const queryKey of [["home"], ["classes"], ["board"]]) cache.removeQueries({ queryKey });
    act(
      api.setClassArchived(page.id, archived),
      archived ? `${page.name} is archived.` : `${page.name} is open again.`,
    );
  };
  const here = page.members.filter((member) => !member.left_at);
  const left = page.members.filter((member) => member.left_at);
  if (slips.length > 0)
    return (
      <div className="min-h-0 flex-1 overflow-y-auto print:overflow-visible">
        <Slips slips={slips} onClose={() => setSlips([])} />
      </div>
    );
  return (
    <>
      <ClassNav class={page.id} />
      <main className="mx-auto w-full max-w-6xl flex-1 overflow-y-auto px-6 py-6">
        <div className="mb-4 flex flex-wrap items-center gap-2">
          <p className="flex-1 text-lg font-semibold">
            {page.archived && "Archived: "}
            {counted(here.filter((member) => member.role === "student").length, "student")} in {page.name}
          </p>
          <Menu
            button="Class"
            items={[
              ...(page.archived
                ? []
                : [{ text: "Name and time zone…", act: () => setAsked({ what: "rename" }) }]),
              { text: "Copy for a new term…", act: () => navigate(`/classes/${page.id}/copy`) },
              page.archived
                ? { text: "Reopen", act: () => archive(false) }
                : { text: "Archive…", act: () => setAsked({ what: "archive" }) },
            ]}
          />
          {!page.archived && (
            <Button look="main" onClick={() => setAsked({ what: "bring" })}>
              Add people
            </Button>
          )}
        </div>
        <p role="status" className="mb-2 min-h-5 text-ink-soft">
          {notice}
        </p>
        {!page.archived && <JoinCodes page={page} again={again} />}
        {page.invited.length > 0 && (
          <Invited
            page={page}
            onWithdraw={(person, name) =>
              act(api.withdrawInvitation(page.id, person), `The request to ${name} is withdrawn.`)
            }
          />
        )}
        <Members
          page={page}
          members={here}
          onAsk={setAsked}
          onSlips={(members) =>
            void api
              .giveSlips(
                page.id,
                members.map((member) => member.person),
              )
              .then((made) => setSlips(made))
              .catch((error: Error) => setNotice(error.message))
          }
          onRole={(member) => {
            const role = member.role === "student" ? "instructor" : "student";
            const words =
              role === "student"
                ? `${member.name} is now a student of the class.`
                : `${member.name} was asked to teach the class and becomes an instructor after accepting.`;
            act(api.setRole(page.id, member.person, role), words);
          }}
        />
        {left.length > 0 && (
          <details className="mt-6">
            <summary className="cursor-pointer text-ink-soft">
              {counted(left.length, "former member")}
            </summary>
            <Left members={left} onErase={(member) => setAsked({ what: "erase", members: [member] })} />
          </details>
        )}
      </main>
      {asked?.what === "bring" && (
        <AddPeople
          class={page.id}
          onClose={() => setAsked(null)}
          onDone={(made, words) => {
            setSlips(made);
            void done(words);
          }}
        />
      )}
      {asked?.what === "archive" && (
        <Dialog
          open
          onClose={() => setAsked(null)}
          title={`Archive ${page.name}?`}
          text="Students can still see their results, but nobody can submit, review or change anything. Join codes end. You can reopen the class at any time."
        >
          <DialogButtons>
            <Button onClick={() => setAsked(null)}>Cancel</Button>
            <Button look="main" onClick={() => archive(true)}>
              Archive
            </Button>
          </DialogButtons>
        </Dialog>
      )}
      {asked?.what === "rename" && (
        <ClassDialog
          title="Name and time zone"
          given={{ name: page.name, time_zone: page.time_zone }}
          done="Save"
          onClose={() => setAsked(null)}
          onDone={(body) => api.changeClass(page.id, body).then(() => done("Saved."))}
        />
      )}
      {asked && "members" in asked && (
        <MemberDialog
          page={page}
          asked={asked}
          onClose={() => setAsked(null)}
          onDone={done}
          onFailed={again}
        />
      )}
    </>
  );
}

type InvitedProps = { page: ClassPage; onWithdraw: (person: number, name: string) => void };

function Invited({ page, onWithdraw }: InvitedProps) {
  return (
    <section aria-label="Asked to teach" className="mb-4">
      <Heading>Asked to teach</Heading>
      <ul>
        {page.invited.map((each) => (
          <li key={each.person} className="flex items-center gap-3 border-b border-hairline py-1">
            <span className="font-semibold">{each.name}</span>
            <span className="flex-1 text-ink-soft">since {dateTime(each.made_at)}, no answer yet</span>
            <Button onClick={() => onWithdraw(each.person, each.name)}>Withdraw</Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Left({ members, onErase }: { members: readonly Member[]; onErase: (member: Member) => void }) {
  return (
    <Table caption="Former members (work kept)" heads={["Name", "Left", ""]}>
      {members.map((member) => (
        <tr key={member.person} className="border-b border-hairline">
          <Cell>{member.name}</Cell>
          <Cell>{member.left_at && dateTime(member.left_at)}</Cell>
          <Cell right>
            {member.mine && <Button onClick={() => onErase(member)}>Erase name and work…</Button>}
          </Cell>
        </tr>
      ))}
    </Table>
  );
}

type MemberDialogProps = {
  page: ClassPage;
  asked: MemberAction;
  onClose: () => void;
  onDone: (words: string) => Promise<void>;
  onFailed: () => void;
};

function MemberDialog({ page, asked: { what, members }, onClose, onDone, onFailed }: MemberDialogProps) {
  const [first] = members;
  const name = members.length === 1 && first ? first.name : counted(members.length, "member");
  const were = members.length === 1 ? "was" : "were";
  const each = (act: (person: number) => Promise<unknown>) =>
    Promise.all(members.map(({ person }) => act(person)));
  const [typed, setTyped] = useState("");
  const [to, setTo] = useState(page.others[0]?.id ?? 0);
  const [problem, setProblem] = useState<string | null>(null);
  const words = {
    leave: {
      title: `Remove ${name} from the class?`,
      text: "They can no longer open the class. Their name and work stay until you erase them.",
      does: "Remove",
      act: () =>
        each((person) => api.removeMember(page.id, person)).then(
          () => `${name} ${were} removed from the class.`,
        ),
    },
    move: {
      title: `Move ${name}`,
      text: "Work done in this class stays here.",
      does: "Move",
      act: () => each((person) => api.moveMember(page.id, person, to)).then(() => `${name} ${were} moved.`),
    },
    erase: {
      title: `Erase ${name}?`,
      text: "This deletes the name, drafts, submissions, results and remarks in all your classes, permanently. The activity log keeps a note of it. Type the name to confirm.",
      does: "Erase permanently",
      act: () => each((person) => api.erase(page.id, person, typed)).then(() => "Name and work were erased."),
    },
  }[what];
  return (
    <Dialog open onClose={onClose} title={words.title} text={words.text}>
      {what === "move" && (
        <>
          <Heading>To</Heading>
          <Select
            label="To which class"
            value={String(to)}
            options={page.others.map((other) => ({ value: String(other.id), text: other.name }))}
            onChange={(next) => setTo(Number(next))}
            className="w-full"
          />
        </>
      )}
      {what === "erase" && (
        <input
          aria-label={`Type the name ${name}`}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          className="mt-3 h-8 w-full rounded-md border border-edge bg-paper px-2"
        />
      )}
      {problem && (
        <p role="alert" className="mt-2 text-fail">
          {problem}
        </p>
      )}
      <DialogButtons>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          look="main"
          disabled={what === "erase" && typed.trim() !== name}
          onClick={() =>
            void words
              .act()
              .then(onDone)
              .catch((error: Error) => {
                setProblem(error.message);
                onFailed(); // some of several may be done
              })
          }
        >
          {words.does}
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
