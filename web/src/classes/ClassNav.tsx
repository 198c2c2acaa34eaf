// The pages of one class, and those of one thing set: which there are, and which one this is.
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
        { to: `${place}/done`, text: "What was done" },
      ]}
    />
  );
}

export function ExerciseNav({ assignment }: { assignment: number }) {
  const place = `/set/${assignment}`;
  return (
    <Ways
      label="This exercise"
      ways={[
        { to: place, text: "Submissions" },
        { to: `${place}/insight`, text: "What the class gets wrong" },
        { to: `${place}/setting`, text: "How it is set" },
        { to: `${place}/again`, text: "Judge again" },
      ]}
    />
  );
}
