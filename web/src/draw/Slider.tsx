import { useRef, type ReactNode } from "react";
import { day, dayText, isoDay } from "../units/format";
import type { TimeScale } from "./Axis";

const DAY = 86_400_000;

interface Props {
  label: string;
  /** What it reads as it moves, after the day. */
  reads?: string | undefined;
  on: string;
  scale: TimeScale;
  width: number;
  top: number;
  onMove: (day: string) => void;
  /** Let go of: the day it was left at. */
  onDrop?: (day: string) => void;
  onPick?: () => void;
  children: ReactNode;
}

/** A day that is dragged along the axis, or moved with the arrow keys: a day, or a week with shift. */
export function DaySlider({ label, reads, on, scale, width, top, onMove, onDrop, onPick, children }: Props) {
  const start = useRef<number | null>(null);
  const moved = useRef(false);
  const [from, to] = scale.domain() as [Date, Date];
  const step = (days: number) => isoDay(new Date(day(on).getTime() + days * DAY));
  const under = (event: React.PointerEvent<HTMLButtonElement>) => {
    const box = event.currentTarget.parentElement?.getBoundingClientRect();
    return box ? isoDay(scale.invert(Math.min(Math.max(event.clientX - box.left, 0), width))) : on;
  };
  return (
    <button
      type="button"
      role="slider"
      aria-label={label}
      aria-valuemin={Math.round(from.getTime() / DAY)}
      aria-valuemax={Math.round(to.getTime() / DAY)}
      aria-valuenow={Math.round(day(on).getTime() / DAY)}
      aria-valuetext={[dayText(on, 0), reads].filter(Boolean).join(", ")}
      className="absolute size-8 -translate-x-1/2 cursor-ew-resize touch-none"
      style={{ left: scale(day(on)), top }}
      onKeyDown={(event) => {
        const days = event.shiftKey ? 7 : 1;
        if (event.key === "ArrowLeft") onMove(step(-days));
        else if (event.key === "ArrowRight") onMove(step(days));
        else if (event.key === "Enter" && onDrop) onDrop(on);
        else return;
        event.preventDefault();
      }}
      onPointerDown={(event) => {
        start.current = event.clientX;
        moved.current = false;
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (start.current === null) return;
        // A hand that only picks trembles by a pixel or two.
        if (Math.abs(event.clientX - start.current) > 3) moved.current = true;
        if (moved.current) onMove(under(event));
      }}
      onPointerUp={(event) => {
        if (start.current === null) return;
        start.current = null;
        if (moved.current) onDrop?.(under(event));
        else onPick?.();
      }}
    >
      {children}
    </button>
  );
}
