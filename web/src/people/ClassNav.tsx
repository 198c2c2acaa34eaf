// The pages of one class, and those of one assignment: which there are, and which one this is.
import { NavLink } from "react-router";

type Way = { to: string; text: string };

function Ways({ label, ways }: { label: string; ways: readonly Way[] }) {
  return (
    <nav aria-label={label} className="flex shrink-0 gap-5 border-b border-hairline px-6 print:hidden">
      {ways.map(({ to, text }) => (
        <NavLink
          key={to}
          to={to}
          end
          className={({ isActive }) =>
            `-mb-px border-b-2 py-2 font-semibold whitespace-nowrap ${isActive ? "border-plum text-plum" : "border-transparent text-ink-soft hover:text-ink"}`
          }
        >
          {text}
        </NavLink>
      ))}
    </nav>
  );
}

export function ClassNav({ class: number }: { class: number }) {
  const place = `/classes/${number}`;
  return (
    <Ways
      label="This class"
      ways={[
        { to: place, text: "Board" },
        { to: `${place}/people`, text: "People" },
        { to: `${place}/activity`, text: "Activity" },
      ]}
    />
  );
}

export function ExerciseNav({ assignment }: { assignment: number }) {
  const place = `/assignments/${assignment}`;
  return (
    <Ways
      label="This exercise"
      ways={[
        { to: place, text: "Submissions" },
        { to: `${place}/mistakes`, text: "Class mistakes" },
        { to: `${place}/settings`, text: "Settings" },
        { to: `${place}/recheck`, text: "Re-check" },
      ]}
    />
  );
}
