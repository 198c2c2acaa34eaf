// What the kind under More that is being said draws in the view.
import { kindOf } from "../steps/registry";
import type { Setting } from "../steps/setting";
import { useMore } from "./useMore";

export function KindDrawing({ setting }: { setting: Setting }) {
  const now = useMore(setting);
  const Drawing = now && kindOf(now.more.op).Drawing;
  return Drawing ? <Drawing key={now.more.turn} {...now.props} setting={setting} /> : null;
}
