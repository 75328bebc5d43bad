import { useEffect, useRef, useState } from "react";
import { distance, type Plane, type Spot } from "./plane";

/** Fixes worse than this are left out, metres. */
const WORST = 12;
/** A step shorter than this tells nothing new; one longer is a slip of the receiver. */
const [SHORTEST, LONGEST] = [2, 150];

export interface Walk {
  /** The line so far. */
  line: readonly Spot[];
  /** How well the last fix is known, metres; none before the first. */
  accuracy: number | null;
  /** Fixes that were left out. */
  leftOut: number;
  /** What the device said instead of a place. */
  trouble: string | null;
}

const nothing: Walk = { line: [], accuracy: null, leftOut: 0, trouble: null };

/** One more fix of the receiver. */
export function walked(walk: Walk, at: Spot, accuracy: number): Walk {
  const last = walk.line.at(-1);
  const step = last ? distance(last, at) : Infinity;
  if (accuracy > WORST || (last && step > LONGEST)) return { ...walk, accuracy, leftOut: walk.leftOut + 1 };
  if (step < SHORTEST) return { ...walk, accuracy };
  return { ...walk, accuracy, line: [...walk.line, at], trouble: null };
}

/** The device's position followed while one walks along the boundary. */
export function useWalk(plane: Plane) {
  const [state, setState] = useState<"still" | "walking" | "paused">("still");
  const [walk, setWalk] = useState(nothing);
  const flat = useRef(plane);
  useEffect(() => {
    flat.current = plane;
  }, [plane]);
  useEffect(() => {
    if (state !== "walking") return;
    if (!("geolocation" in navigator)) return;
    const watch = navigator.geolocation.watchPosition(
      ({ coords }) =>
        setWalk((now) =>
          walked(now, flat.current.flat([coords.longitude, coords.latitude]), coords.accuracy),
        ),
      (error) => setWalk((now) => ({ ...now, trouble: error.message || "the device tells no place" })),
      { enableHighAccuracy: true, maximumAge: 0, timeout: 30_000 },
    );
    return () => navigator.geolocation.clearWatch(watch);
  }, [state]);
  return {
    state,
    walk,
    go: () => setState("walking"),
    pause: () => setState("paused"),
    stop: () => {
      setState("still");
      setWalk(nothing);
    },
  };
}
