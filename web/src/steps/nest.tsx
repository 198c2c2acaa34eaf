// Nest: put in another object, so that it follows that one.
import { Switches } from "../ui/chips";
import { ObjectChip, Word } from "./chips";
import { type Kind, otherThan } from "./kind";

const NOTHING = " out"; // no id begins with a blank that a list could show

export const nest: Kind<"nest"> = {
  name: "Nest",
  purpose: "Make an object follow another",
  group: "Group",
  key: "E",
  acts: "chosen",
  begin: ({ chosen, objects }) => ({ parent: otherThan(chosen, objects) ?? null, keep: "world" }),
  make: ({ parent, keep }) =>
    parent === undefined ? "Choose the object to follow." : { parent, keep: keep ?? "world" },
  Chips: ({ values, change, context }) => (
    <>
      <Word>in</Word>
      <ObjectChip
        label="In"
        objects={context.objects.filter((item) => !context.chosen.includes(item.id))}
        value={values.parent ?? NOTHING}
        also={{ [NOTHING]: "nothing" }}
        onChange={(parent) => change({ parent: parent === NOTHING ? null : parent })}
      />
      <Word>keeping its</Word>
      <Switches
        label="Keeping"
        value={values.keep ?? "world"}
        words={{ world: "place in the world", local: "local numbers" }}
        onChange={(keep) => change({ keep })}
      />
    </>
  ),
};
