// The people of a class: who is in it, bringing more in, first passwords, moving, leaving.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { ClassPage, Member, Slip } from "../api/types";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { Menu } from "../ui/Menu";
import { counted, dateTime } from "../ui/numbers";
import { Page } from "../ui/Page";
import { Button, Heading } from "../ui/parts";
import { usePerson } from "../ui/session";
import { Cell, Table } from "../ui/table";
import { BringIn } from "./BringIn";
import { ClassDialog } from "./ClassDialog";
import { ClassNav } from "./ClassNav";
import { JoinCodes } from "./JoinCodes";
import { Slips } from "./Slips";

export function Component() {
  return (
    <Page
      what="class"
      by="class"
      load={api.class}
      title={(page) => (page ? `${page.name}: people` : "People")}
      waiting="Looking who is in the class…"
    >
      {(page) => <People page={page} />}
    </Page>
  );
}

type Asked = { what: "leave" | "erase" | "move"; member: Member } | { what: "bring" | "rename" };

function People({ page }: { page: ClassPage }) {
  const cache = useQueryClient();
  const [asked, setAsked] = useState<Asked | null>(null);
  const [slips, setSlips] = useState<readonly Slip[]>([]);
  const [told, setTold] = useState("");
  const again = () => cache.invalidateQueries({ queryKey: ["class", page.id] });
  const done = async (words: string) => {
    setAsked(null);
    setTold(words);
    await again();
  };
  const act = (what: Promise<unknown>, words: string) =>
    void what.then(() => done(words)).catch((error: Error) => setTold(error.message));
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
            {counted(here.filter((member) => member.role === "student").length, "student")} in {page.name}
          </p>
          <Button onClick={() => setAsked({ what: "rename" })}>Name and time zone</Button>
          <Button look="main" onClick={() => setAsked({ what: "bring" })}>
            Bring people in
          </Button>
        </div>
        <p role="status" className="mb-2 min-h-5 text-ink-soft">
          {told}
        </p>
        <JoinCodes page={page} again={again} />
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
          onSlip={(member) =>
            void api
              .giveSlips(page.id, [member.person])
              .then((made) => setSlips(made))
              .catch((error: Error) => setTold(error.message))
          }
          onRole={(member) => {
            const role = member.role === "student" ? "instructor" : "student";
            const words =
              role === "student"
                ? `${member.name} is a student of the class now.`
                : `${member.name} is asked to teach the class, and becomes an instructor after accepting.`;
            act(api.setRole(page.id, member.person, role), words);
          }}
        />
        {left.length > 0 && (
          <details className="mt-6">
            <summary className="cursor-pointer text-ink-soft">{counted(left.length, "person")} left</summary>
            <Left members={left} onErase={(member) => setAsked({ what: "erase", member })} />
          </details>
        )}
      </main>
      {asked?.what === "bring" && (
        <BringIn
          class={page.id}
          onClose={() => setAsked(null)}
          onDone={(made, words) => {
            setSlips(made);
            void done(words);
          }}
        />
      )}
      {asked?.what === "rename" && (
        <ClassDialog
          title="Name and time zone"
          given={{ name: page.name, time_zone: page.time_zone }}
          done="Keep"
          onClose={() => setAsked(null)}
          onDone={(body) => api.changeClass(page.id, body).then(() => done("Kept."))}
        />
      )}
      {asked && "member" in asked && (
        <MemberDialog page={page} asked={asked} onClose={() => setAsked(null)} onDone={done} />
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

type MembersProps = {
  page: ClassPage;
  members: readonly Member[];
  onAsk: (asked: Asked) => void;
  onSlip: (member: Member) => void;
  onRole: (member: Member) => void;
};

function Members({ page, members, onAsk, onSlip, onRole }: MembersProps) {
  const me = usePerson();
  return (
    <Table caption="In the class" heads={["Name", "Signs in as", "E-mail", "Role", "Here last", ""]}>
      {members.map((member) => (
        <tr key={member.person} className="border-b border-hairline">
          <Cell>
            {member.role === "student" ? (
              <Link
                to={`/classes/${page.id}/students/${member.person}`}
                className="text-plum font-semibold underline-offset-2 hover:underline"
              >
                {member.name}
              </Link>
            ) : (
              <span className="font-semibold">{member.name}</span>
            )}
          </Cell>
          <Cell>
            <span className="font-mono">{member.sign_in}</span>
          </Cell>
          <Cell>{member.email || "–"}</Cell>
          <Cell>{member.role === "student" ? "Student" : "Instructor"}</Cell>
          <Cell>
            {member.waits ? (
              <span className="text-near">≈ one-time password not used yet</span>
            ) : member.seen_at ? (
              dateTime(member.seen_at)
            ) : (
              "–"
            )}
          </Cell>
          <Cell right>
            {member.sign_in !== me.sign_in && (
              <MemberMenu
                member={member}
                canMove={page.others.length > 0}
                invited={page.invited.some((each) => each.person === member.person)}
                onAsk={onAsk}
                onSlip={onSlip}
                onRole={onRole}
              />
            )}
          </Cell>
        </tr>
      ))}
    </Table>
  );
}

type MenuProps = Pick<MembersProps, "onAsk" | "onSlip" | "onRole"> & {
  member: Member;
  canMove: boolean;
  invited: boolean;
};

function MemberMenu({ member, canMove, invited, onAsk, onSlip, onRole }: MenuProps) {
  const student = member.role === "student";
  const items = [
    ...(member.mine ? [{ text: "New one-time password", act: () => onSlip(member) }] : []),
    ...(student && canMove
      ? [{ text: "Move to another class…", act: () => onAsk({ what: "move", member }) }]
      : []),
    ...(invited
      ? []
      : [
          {
            text: student ? "Ask to teach this class" : "Make a student of this class",
            act: () => onRole(member),
          },
        ]),
    { text: "Let leave…", act: () => onAsk({ what: "leave", member }) },
  ];
  return <Menu label={`Change ${member.name}`} button="Change" items={items} />;
}

function Left({ members, onErase }: { members: readonly Member[]; onErase: (member: Member) => void }) {
  return (
    <Table caption="Left; their work is kept" heads={["Name", "Left", ""]}>
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
  asked: { what: "leave" | "erase" | "move"; member: Member };
  onClose: () => void;
  onDone: (words: string) => Promise<void>;
};

function MemberDialog({ page, asked: { what, member }, onClose, onDone }: MemberDialogProps) {
  const [typed, setTyped] = useState("");
  const [to, setTo] = useState(page.others[0]?.id ?? 0);
  const [problem, setProblem] = useState<string | null>(null);
  const words = {
    leave: {
      title: `Let ${member.name} leave?`,
      text: "The class is closed to them then. Their work stays, with the name, until you erase it.",
      does: "Let leave",
      act: () => api.letGo(page.id, member.person).then(() => `${member.name} has left the class.`),
    },
    move: {
      title: `Move ${member.name}`,
      text: "What was done here stays here.",
      does: "Move",
      act: () => api.moveMember(page.id, member.person, to).then(() => `${member.name} is moved.`),
    },
    erase: {
      title: `Erase ${member.name}?`,
      text: "Name, drafts, submissions, verdicts and remarks are gone for good, in all your classes. That it was done is written down. Type the name to erase it.",
      does: "Erase for good",
      act: () => api.erase(page.id, member.person, typed).then(() => "Name and work are erased."),
    },
  }[what];
  return (
    <Dialog open onClose={onClose} title={words.title} text={words.text}>
      {what === "move" && (
        <>
          <Heading>To</Heading>
          <select
            aria-label="To which class"
            value={to}
            onChange={(event) => setTo(Number(event.target.value))}
            className="h-8 w-full rounded-md border border-edge bg-sheet px-2"
          >
            {page.others.map((other) => (
              <option key={other.id} value={other.id}>
                {other.name}
              </option>
            ))}
          </select>
        </>
      )}
      {what === "erase" && (
        <input
          aria-label={`The name ${member.name}`}
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
          disabled={what === "erase" && typed.trim() !== member.name}
          onClick={() =>
            void words
              .act()
              .then(onDone)
              .catch((error: Error) => setProblem(error.message))
          }
        >
          {words.does}
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
