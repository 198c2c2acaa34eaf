// The objects of the scene as a tree, to choose from by keyboard and pointer.
import { Lock, Search } from "lucide-react";
import { type DragEvent, type MouseEvent, useState } from "react";
import type { SceneObject } from "../api/types";

export type Props = {
  objects: readonly SceneObject[];
  chosen: readonly string[];
  onChoose: (ids: readonly string[]) => void;
  /** Asks for objects to be put in another, or in nothing; `null` where the exercise does not offer it. */
  onNest: ((ids: readonly string[], parent: string | null) => void) | null;
};

/** Objects in the order of the tree, each after its parent; what can be worked on before what is locked. */
export function treeOf(objects: readonly SceneObject[]): SceneObject[] {
  const below = (parent: string | null): SceneObject[] =>
    objects.filter((item) => item.parent === parent).flatMap((item) => [item, ...below(item.id)]);
  const roots = objects.filter((item) => item.parent === null);
  const ordered = [...roots.filter((item) => !item.locked), ...roots.filter((item) => item.locked)];
  return ordered.flatMap((item) => [item, ...below(item.id)]);
}

export function depthOf(item: SceneObject, objects: readonly SceneObject[]): number {
  const parent = objects.find((other) => other.id === item.parent);
  return parent ? 1 + depthOf(parent, objects) : 0;
}

const SEARCH_FROM = 8; // objects: fewer are seen at a glance

export function ObjectList({ objects, chosen, onChoose, onNest }: Props) {
  const [search, setSearch] = useState("");
  const [dragged, setDragged] = useState<readonly string[]>([]);
  const [over, setOver] = useState<string | null>(null);
  /** What makes a place take what is dragged: that of an object, or, as "", what is outside of all. */
  const takes = (place: string) => ({
    onDragOver: (event: DragEvent) => {
      if (dragged.length === 0 || dragged.includes(place)) return;
      event.preventDefault();
      setOver(place);
    },
    onDragLeave: () => setOver(null),
    onDrop: (event: DragEvent) => {
      event.preventDefault();
      onNest?.(dragged, place || null);
      setDragged([]);
      setOver(null);
    },
  });
  const found = treeOf(objects).filter((item) => item.name.toLowerCase().includes(search.toLowerCase()));
  const choose = (id: string, event: MouseEvent) => {
    const more = event.ctrlKey || event.metaKey || event.shiftKey;
    if (!more) onChoose([id]);
    else onChoose(chosen.includes(id) ? chosen.filter((other) => other !== id) : [...chosen, id]);
  };
  return (
    <section aria-label="Objects" className="flex min-h-0 flex-1 flex-col">
      {objects.length > SEARCH_FROM && (
        <label className="mb-1 flex items-center gap-1.5 rounded-md border border-edge px-2">
          <Search size={12} aria-hidden className="text-ink-soft" />
          <span className="sr-only">Search objects</span>
          <input
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            onKeyDown={(event) => event.key === "Escape" && setSearch("")}
            placeholder="Search"
            className="h-6 min-w-0 flex-1 bg-transparent text-sm outline-none placeholder:text-ink-soft"
          />
        </label>
      )}
      <ul className="min-h-0 flex-1 overflow-y-auto">
        {found.map((item) => (
          <li key={item.id} style={{ paddingLeft: `${depthOf(item, objects) * 0.8}rem` }}>
            <button
              type="button"
              draggable={onNest !== null && !item.locked}
              onDragStart={(event) => {
                event.dataTransfer.setData("text/plain", item.name);
                setDragged(chosen.includes(item.id) ? chosen : [item.id]);
              }}
              onDragEnd={() => setDragged([])}
              {...takes(item.id)}
              aria-pressed={chosen.includes(item.id)}
              onClick={(event) => choose(item.id, event)}
              className={`flex w-full items-center gap-2 rounded-sm px-1.5 py-0.5 text-left hover:bg-well ${over === item.id ? "outline-2 outline-plum" : ""} ${chosen.includes(item.id) ? "bg-plum-soft font-semibold text-plum" : ""}`}
            >
              <span
                aria-hidden
                className={`size-3 shrink-0 border border-edge ${item.solid ? "" : "rounded-full border-dashed"}`}
                style={item.solid ? { background: item.colour } : undefined}
              />
              <span className="truncate">{item.name}</span>
              {item.locked && (
                <Lock size={12} className="ml-auto shrink-0 text-ink-soft" aria-label="locked" />
              )}
            </button>
          </li>
        ))}
        {dragged.some((id) => objects.find((item) => item.id === id)?.parent) && (
          <li
            {...takes("")}
            className={`mt-1 rounded-sm border border-dashed border-edge px-1.5 py-1 text-sm text-ink-soft ${over === "" ? "border-plum bg-plum-soft" : ""}`}
          >
            Drop here: no parent
          </li>
        )}
        {found.length === 0 && <li className="px-1.5 text-ink-soft">No object with this name.</li>}
      </ul>
    </section>
  );
}
