// The objects of the scene, to choose from by keyboard and pointer.
import { Lock } from "lucide-react";
import type { SceneObject } from "../api/types";
import { Heading } from "../ui/parts";

type Props = { objects: readonly SceneObject[]; chosen: string | null; onChoose: (id: string) => void };

export function ObjectList({ objects, chosen, onChoose }: Props) {
  const free = objects.filter((item) => !item.locked);
  const locked = objects.filter((item) => item.locked);
  return (
    <section aria-label="Objects" className="min-h-0 flex-1 overflow-y-auto border-t border-hairline p-4">
      <Heading>Objects to move</Heading>
      <Names objects={free} chosen={chosen} onChoose={onChoose} />
      <div className="mt-3">
        <Heading>Fixed</Heading>
        <Names objects={locked} chosen={chosen} onChoose={onChoose} />
      </div>
    </section>
  );
}

function Names({ objects, chosen, onChoose }: Props) {
  return (
    <ul>
      {objects.map((item) => (
        <li key={item.id}>
          <button
            type="button"
            aria-pressed={item.id === chosen}
            onClick={() => onChoose(item.id)}
            className={`flex w-full items-center gap-2 rounded-sm px-1.5 py-0.5 text-left hover:bg-well ${item.id === chosen ? "bg-plum-soft font-semibold text-plum" : ""}`}
          >
            <span
              aria-hidden
              className="size-3 shrink-0 border border-edge"
              style={{ background: item.colour }}
            />
            <span className="truncate">{item.name}</span>
            {item.locked && <Lock size={12} className="ml-auto shrink-0 text-ink-soft" aria-label="locked" />}
          </button>
        </li>
      ))}
    </ul>
  );
}
