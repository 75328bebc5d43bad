import { useEffect, useMemo, useState } from "react";
import { keepDraft, keptDraft, useDraftName } from "../kit/draft";
import { distance, isDegrees, planeAround, type Degrees, type Plane } from "./plane";

/** Fixes worse than this are left out, metres. */
const WORST = 12;
/** A step shorter than this tells nothing new; one longer is a slip of the receiver. */
const [SHORTEST, LONGEST] = [2, 150];

export interface Walk {
  /** The line so far. */
  places: readonly Degrees[];
  /** How well the last fix is known, metres; none before the first. */
  accuracy: number | null;
  /** Fixes that were left out. */
  leftOut: number;
  /** What the device said instead of a place. */
  trouble: string | null;
}

/** A walk that begins, or goes on where a kept one ended. */
export const begun = (kept: unknown): Walk => ({
  places: Array.isArray(kept) ? kept.filter(isDegrees) : [],
  accuracy: null,
  leftOut: 0,
  trouble: null,
});

/** One more fix of the receiver. */
export function walked(walk: Walk, at: Degrees, accuracy: number): Walk {
  const last = walk.places.at(-1);
  const step = last ? distance(planeAround(last).flat(at), { x: 0, y: 0 }) : Infinity;
  if (accuracy > WORST || (last && step > LONGEST)) return { ...walk, accuracy, leftOut: walk.leftOut + 1 };
  if (step < SHORTEST) return { ...walk, accuracy };
  return { ...walk, accuracy, places: [...walk.places, at], trouble: null };
}

/**
 * The device's position followed while one walks along a boundary. The line is kept on the device: after a reload or
 * a lock one goes on from where it ended.
 */
export function useWalk(plane: Plane, of: string) {
  const name = useDraftName(`walk.${of}`);
  const [walk, setWalk] = useState(() => begun(keptDraft(name)));
  const { places } = walk;
  const [state, setState] = useState<"still" | "walking" | "paused">(places.length > 0 ? "paused" : "still");
  useEffect(() => keepDraft(name, places.length > 0 ? places : null), [name, places]);
  useEffect(() => {
    if (state !== "walking") return;
    if (!("geolocation" in navigator)) return;
    const watch = navigator.geolocation.watchPosition(
      ({ coords }) => setWalk((now) => walked(now, [coords.longitude, coords.latitude], coords.accuracy)),
      (error) => setWalk((now) => ({ ...now, trouble: error.message || "no location from this device" })),
      { enableHighAccuracy: true, maximumAge: 0, timeout: 30_000 },
    );
    return () => navigator.geolocation.clearWatch(watch);
  }, [state]);
  return {
    state,
    walk,
    /** The line on the plane. */
    line: useMemo(() => places.map(plane.flat), [places, plane]),
    go: () => setState("walking"),
    pause: () => setState("paused"),
    stop: () => {
      setState("still");
      setWalk(begun(null));
    },
  };
}
