// Assemble: a new assembly that holds the chosen together.
import { TextChip, Word } from "./chips";
import { freeId, type Kind } from "./kind";

export const assemble: Kind<"assemble"> = {
  name: "Assemble",
  purpose: "Group the selection as one object",
  group: "Group",
  key: "B",
  acts: "chosen",
  begin: () => ({ name: "" }),
  make: ({ name }, { objects }) => {
    const called = name?.trim();
    return called ? { name: called, id: freeId(called, objects) } : "Type a name for the assembly.";
  },
  Chips: ({ values, change }) => (
    <>
      <Word>as</Word>
      <TextChip label="Name" value={values.name ?? ""} onChange={(name) => change({ name })} />
    </>
  ),
};
