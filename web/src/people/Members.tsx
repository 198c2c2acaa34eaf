// The members of a class as a table: search, sort, and one action for several of them.
import { useMemo, useState } from "react";
import { Link } from "react-router";
import type { ClassPage, Member } from "../api/types";
import { RowMenu } from "../ui/Menu";
import { counted, dateTime } from "../ui/numbers";
import { Button, Tick } from "../ui/parts";
import { SearchField } from "../ui/SearchField";
import { usePerson } from "../ui/session";
import { Cell, Table } from "../ui/table";
import { useSort } from "../ui/useSort";
import type { Asked } from "./PeoplePage";

type Props = {
  page: ClassPage;
  members: readonly Member[];
  onAsk: (asked: Asked) => void;
  onSlips: (members: readonly Member[]) => void;
  onRole: (member: Member) => void;
};

const KEYS = {
  Name: (member: Member) => member.name,
  Username: (member: Member) => member.sign_in,
  Role: (member: Member) => member.role,
  "Last seen": (member: Member) => member.seen_at,
};

export function Members({ page, members, onAsk, onSlips, onRole }: Props) {
  const me = usePerson();
  const [wanted, setWanted] = useState("");
  const [selected, setSelected] = useState<ReadonlySet<number>>(new Set());
  const found = useMemo(() => {
    const words = wanted.trim().toLowerCase();
    return members.filter(({ name, sign_in, email }) =>
      `${name} ${sign_in} ${email ?? ""}`.toLowerCase().includes(words),
    );
  }, [members, wanted]);
  const { sorted, sort, onSort } = useSort(found, KEYS, { by: "Name", down: false });
  const others = sorted.filter((member) => member.sign_in !== me.sign_in);
  const taken = others.filter((member) => selected.has(member.person));
  const own = taken.filter((member) => member.mine);
  const select = (people: readonly Member[], on: boolean) => {
    const next = new Set(selected);
    for (const { person } of people) on ? next.add(person) : next.delete(person);
    setSelected(next);
  };
  return (
    <section aria-label="Members">
      <div className="mb-1 flex min-h-8 flex-wrap items-center gap-2">
        <SearchField label="Search members" value={wanted} onChange={setWanted} className="w-56" />
        {others.length > 0 && (
          <Tick
            id="all members"
            text="Select all"
            on={taken.length === others.length}
            onChange={(on) => select(others, on)}
          />
        )}
        {taken.length > 0 && (
          <>
            <span className="ml-2 text-ink-soft">{counted(taken.length, "member")} selected</span>
            <Button disabled={own.length === 0} onClick={() => onSlips(own)}>
              New one-time passwords
            </Button>
            <Button onClick={() => onAsk({ what: "leave", members: taken })}>Remove from class…</Button>
          </>
        )}
      </div>
      <Table
        caption="Members"
        heads={["", "Name", "Username", "E-mail", "Role", "Last seen", " "]}
        sort={{ ...sort, heads: Object.keys(KEYS), onSort }}
      >
        {sorted.map((member) => (
          <tr key={member.person} className="border-b border-hairline hover:bg-well">
            <td className="w-6 pl-2">
              {member.sign_in !== me.sign_in && (
                <Tick
                  id={`select ${member.person}`}
                  text=""
                  label={`Select ${member.name}`}
                  on={selected.has(member.person)}
                  onChange={(on) => select([member], on)}
                />
              )}
            </td>
            <Cell>
              <Name page={page} member={member} />
            </Cell>
            <Cell>
              <span className="font-mono">{member.sign_in}</span>
            </Cell>
            <Cell>{member.email || "–"}</Cell>
            <Cell>{member.role === "student" ? "Student" : "Instructor"}</Cell>
            <Cell>
              {member.waits ? (
                <span className="text-near">one-time password not used yet</span>
              ) : member.seen_at ? (
                dateTime(member.seen_at)
              ) : (
                "–"
              )}
            </Cell>
            <Cell right>
              {member.sign_in !== me.sign_in && (
                <RowMenu
                  label={`Change ${member.name}`}
                  items={actionsFor(member, { page, onAsk, onSlips, onRole })}
                />
              )}
            </Cell>
          </tr>
        ))}
      </Table>
      {sorted.length === 0 && <p className="py-2 text-ink-soft">No member with this name.</p>}
    </section>
  );
}

function Name({ page, member }: { page: ClassPage; member: Member }) {
  if (member.role !== "student") return <span className="font-semibold">{member.name}</span>;
  return (
    <Link
      to={`/classes/${page.id}/students/${member.person}`}
      className="text-plum font-semibold underline-offset-2 hover:underline"
    >
      {member.name}
    </Link>
  );
}

function actionsFor(member: Member, { page, onAsk, onSlips, onRole }: Omit<Props, "members">) {
  const student = member.role === "student";
  const invited = page.invited.some((each) => each.person === member.person);
  return [
    ...(member.mine ? [{ text: "New one-time password", act: () => onSlips([member]) }] : []),
    ...(student && page.others.length > 0
      ? [{ text: "Move to another class…", act: () => onAsk({ what: "move", members: [member] }) }]
      : []),
    ...(invited
      ? []
      : [{ text: student ? "Ask to teach this class" : "Make a student", act: () => onRole(member) }]),
    { text: "Remove from class…", act: () => onAsk({ what: "leave", members: [member] }) },
  ];
}
