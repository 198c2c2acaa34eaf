// Remove: taken out of the scene.
import { Switches } from "../ui/chips";
import { Word } from "./chips";
import type { Kind } from "./kind";

export const remove: Kind<"remove"> = {
  name: "Remove",
  purpose: "Delete objects; deleting an assembly alone ungroups it",
  group: "Make",
  key: "Delete",
  acts: "chosen",
  begin: () => ({ children: "remove" }),
  make: ({ children }) => ({ children: children ?? "remove" }),
  Chips: ({ values, change }) => (
    <>
      <Word>and what is in it</Word>
      <Switches
        label="Contents"
        value={values.children ?? "remove"}
        words={{ remove: "are deleted too", lift: "stays" }}
        onChange={(children) => change({ children })}
      />
    </>
  ),
};
