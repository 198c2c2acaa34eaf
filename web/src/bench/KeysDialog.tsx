import { Switch } from "radix-ui";
import { Dialog, DialogButtons } from "../ui/Dialog";
import { Button } from "../ui/parts";
import { KEYS, useSingleKeys } from "./useBenchKeys";

export function KeysDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { on, toggle } = useSingleKeys();
  return (
    <Dialog open={open} onClose={onClose} title="Keys on the bench">
      <dl className="mt-3 grid grid-cols-[8rem_1fr] gap-y-1">
        {KEYS.map(([keys, what]) => (
          <div key={keys} className="contents">
            <dt className="font-mono font-bold">{keys}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-3 text-ink-soft">While dragging, Shift keeps to the ticks of the rail.</p>
      <label className="mt-3 flex items-center gap-2" htmlFor="single-keys">
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
      <DialogButtons>
        <Button look="main" onClick={onClose}>
          Close
        </Button>
      </DialogButtons>
    </Dialog>
  );
}
