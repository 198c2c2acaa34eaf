// Remove: taken out of the scene.
import { Switches } from "../ui/chips";
import { Word } from "./chips";
import type { Kind } from "./kind";

export const remove: Kind<"remove"> = {
  name: "Remove",
  purpose: "Take it out of the scene; an assembly alone is so taken apart",
  group: "Make",
  key: "Delete",
  acts: "chosen",
  begin: () => ({ children: "remove" }),
  make: ({ children }) => ({ children: children ?? "remove" }),
  Chips: ({ values, change }) => (
    <>
      <Word>and what is in it</Word>
      <Switches
        label="What is in it"
        value={values.children ?? "remove"}
        words={{ remove: "goes too", lift: "stays" }}
        onChange={(children) => change({ children })}
      />
    </>
  ),
};
