import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { day } from "../units/format";

/** The stretch of time on the axis. It keeps its place from screen to screen. */
export interface Span {
  from: Date;
  to: Date;
}

export const zooms = ["fortnight", "season", "year", "stand life"] as const;
export type Zoom = (typeof zooms)[number];

const DAY = 86_400_000;

/** The farm's year around a day: twelve months from the one that it begins with, 1 to 12. */
function yearAround(middle: Date, begins: number): Span {
  const year = middle.getUTCFullYear();
  const first = middle.getUTCMonth() >= begins - 1 ? year : year - 1;
  return { from: new Date(Date.UTC(first, begins - 1, 1)), to: new Date(Date.UTC(first + 1, begins - 1, 1)) };
}

/** Months that are always in sight after the day in the middle. */
const AHEAD = 6;

/** Twelve months with the day in them: the farm's year, moved on as far as it takes to have half a year ahead in sight. */
function yearWith(middle: Date, begins: number): Span {
  const { from } = yearAround(middle, begins);
  const into = (middle.getUTCMonth() - from.getUTCMonth() + 12) % 12;
  const first = from.getUTCMonth() + Math.max(0, into - AHEAD + 1);
  return {
    from: new Date(Date.UTC(from.getUTCFullYear(), first, 1)),
    to: new Date(Date.UTC(from.getUTCFullYear() + 1, first, 1)),
  };
}

/** The stretch that a zoom shows around a day. */
export function spanOf(zoom: Zoom, middle: Date, begins: number): Span {
  const around = (before: number, after: number): Span => ({
    from: new Date(middle.getTime() - before * DAY),
    to: new Date(middle.getTime() + after * DAY),
  });
  switch (zoom) {
    case "fortnight":
      return around(5, 10);
    case "season":
      return around(45, 90);
    case "year":
      return yearWith(middle, begins);
    case "stand life": {
      const { from } = yearAround(middle, begins);
      return {
        from: new Date(Date.UTC(from.getUTCFullYear() - 3, from.getUTCMonth(), 1)),
        to: new Date(Date.UTC(from.getUTCFullYear() + 4, from.getUTCMonth(), 1)),
      };
    }
  }
}

interface SpanState {
  span: Span;
  zoom: Zoom;
  setZoom: (zoom: Zoom) => void;
  shift: (direction: 1 | -1) => void;
  reset: () => void;
  /** Move along, where a day lies outside of what is shown. */
  reveal: (on: string) => void;
}

const SpanContext = createContext<SpanState | null>(null);

/** A screen about one day shows it, when it opens and when another day is asked about from elsewhere. */
export function useRevealed(on: string): void {
  const { reveal } = useSpan();
  const latest = useRef(reveal);
  useEffect(() => {
    latest.current = reveal;
  });
  useEffect(() => latest.current(on), [on]);
}

export function useSpan(): SpanState {
  const state = useContext(SpanContext);
  if (!state) throw new Error("no span above");
  return state;
}

export function SpanProvider({
  today,
  yearBegins,
  children,
}: {
  today: string;
  yearBegins: number;
  children: ReactNode;
}) {
  const [zoom, setZoom] = useState<Zoom>("year");
  const [middle, setMiddle] = useState(() => day(today));
  const state = useMemo<SpanState>(() => {
    const span = spanOf(zoom, middle, yearBegins);
    const step = { fortnight: 7, season: 60, year: 365.25, "stand life": 730.5 }[zoom];
    return {
      span,
      zoom,
      setZoom,
      shift: (direction) => setMiddle(new Date(middle.getTime() + direction * step * DAY)),
      reset: () => setMiddle(day(today)),
      reveal: (on) => {
        const wanted = day(on);
        if (Number.isNaN(wanted.getTime()) || (wanted >= span.from && wanted < span.to)) return;
        setMiddle(wanted);
      },
    };
  }, [zoom, middle, yearBegins, today]);
  return <SpanContext.Provider value={state}>{children}</SpanContext.Provider>;
}
