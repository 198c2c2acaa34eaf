// Two ways played side by side, a step at a time.
import { useEffect, useEffectEvent } from "react";

const PLAY_MS = 900;

/** How many steps are shown of the own list, and of the right one where it stands beside. */
export type Place = { own: number; right: number | null };

/** Both lists go on together until both are at their end. */
export function usePlayed(
  playing: boolean,
  place: Place,
  ends: { own: number; right: number },
  setPlace: (place: Place) => void,
  onEnd: () => void,
) {
  const next = useEffectEvent(() => {
    const own = Math.min(place.own + 1, ends.own);
    const right = place.right === null ? null : Math.min(place.right + 1, ends.right);
    if (own === place.own && right === place.right) onEnd();
    else setPlace({ own, right });
  });
  useEffect(() => {
    if (!playing) return;
    const timer = window.setInterval(next, PLAY_MS);
    return () => window.clearInterval(timer);
  }, [playing]);
}
