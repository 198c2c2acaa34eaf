// Rename: what an object is called.
import { TextChip, Word } from "./chips";
import type { Kind } from "./kind";

export const rename: Kind<"rename"> = {
  name: "Rename",
  purpose: "Change the name",
  group: "Name and colour",
  key: "R",
  acts: "chosen",
  begin: () => ({ name: "" }),
  make: ({ name }) => {
    const called = name?.trim();
    return called ? { name: called } : "Type the new name.";
  },
  Chips: ({ values, change }) => (
    <>
      <Word>to</Word>
      <TextChip label="Name" value={values.name ?? ""} onChange={(name) => change({ name })} />
    </>
  ),
};
