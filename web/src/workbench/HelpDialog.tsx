// Help: the keys, and what axes, spaces and pivots are, with a picture each.
import { Switch, Tabs } from "radix-ui";
import type { ReactNode } from "react";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { Button } from "../ui/parts";
import { AxesPicture, PivotsPicture, SpacesPicture } from "./HelpPictures";
import { KEYS, useSingleKeys } from "./useBenchKeys";

const PAGES: readonly (readonly [name: string, body: () => ReactNode])[] = [
  ["Keys", Keys],
  ["Axes", Axes],
  ["Spaces", Spaces],
  ["Pivots", Pivots],
];

export function HelpDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} title="Help on the bench">
      <Tabs.Root defaultValue="Keys" className="mt-2">
        <Tabs.List aria-label="Help on" className="flex gap-4 border-b border-hairline">
          {PAGES.map(([name]) => (
            <Tabs.Trigger
              key={name}
              value={name}
              className="-mb-px border-b-2 border-transparent py-1.5 font-semibold text-ink-soft hover:text-ink data-[state=active]:border-plum data-[state=active]:text-plum"
            >
              {name}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        {PAGES.map(([name, Body]) => (
          <Tabs.Content key={name} value={name} className="mt-3 space-y-3">
            <Body />
          </Tabs.Content>
        ))}
      </Tabs.Root>
      <DialogButtons>
        <Button look="main" onClick={onClose}>
          Close
        </Button>
      </DialogButtons>
    </Dialog>
  );
}

function Axes() {
  return (
    <>
      <AxesPicture />
      <p>
        A step goes along axes: one is a line, two a plane, three free. Each axis has a letter and a colour.
        The number you type goes to the underlined axis.
      </p>
      <p>Point the thumb of that hand along the axis: a positive angle turns the way the fingers curl.</p>
    </>
  );
}

function Spaces() {
  return (
    <>
      <SpacesPicture />
      <p>
        <strong>World</strong> axes are the same for all objects. <strong>Local</strong> axes belong to the
        object, as they are before the step. <strong>Parent</strong> axes belong to the object that holds it.{" "}
        <strong>View</strong> axes are right, up and toward you. Before anything is turned, world and local
        axes are the same.
      </p>
    </>
  );
}

function Pivots() {
  return (
    <>
      <PivotsPicture />
      <p>
        An object rotates and scales about its pivot. With the pivot on its edge, a gate swings; with the
        pivot in its middle, it spins in place. The position of an object is the position of its pivot.
      </p>
    </>
  );
}

function Keys() {
  const { on, toggle } = useSingleKeys();
  return (
    <>
      <dl className="grid grid-cols-[8rem_1fr] gap-y-1">
        {KEYS.map(([keys, what]) => (
          <div key={keys} className="contents">
            <dt className="font-mono font-bold">{keys}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <p className="text-ink-soft">While you drag, Shift snaps to the ticks of the rail.</p>
      <label className="flex items-center gap-2" htmlFor="single-keys">
        <Switch.Root
          id="single-keys"
          checked={on}
          onCheckedChange={toggle}
          className="h-5 w-9 rounded-full border border-edge bg-well p-0.5 data-[state=checked]:bg-plum"
        >
          <Switch.Thumb className="block size-3.5 rounded-full bg-ink transition-transform motion-reduce:transition-none data-[state=checked]:translate-x-4 data-[state=checked]:bg-on-plum" />
        </Switch.Root>
        Keys without Ctrl work
      </label>
    </>
  );
}
