import { scaleUtc, type ScaleTime } from "d3-scale";
import { day, dayText } from "../units/format";
import type { Span } from "./span";
import { dateFormat } from "../units/intl";

export type TimeScale = ScaleTime<number, number>;

export function timeScale(span: Span, width: number): TimeScale {
  return scaleUtc([span.from, span.to], [0, width]);
}

export interface Tick {
  at: Date;
  x: number;
  text: string;
  /** A year begins: said louder. */
  year: boolean;
}

/** Days, months or years, whichever leaves room to read them. */
export function ticks(scale: TimeScale, width: number): Tick[] {
  const [from, to] = scale.domain() as [Date, Date];
  const days = (to.getTime() - from.getTime()) / 86_400_000;
  const format = (date: Date, options: Intl.DateTimeFormatOptions) =>
    dateFormat("en-GB", options).format(date);
  const text = (date: Date) => {
    if (days > 800) return format(date, { year: "numeric" });
    if (days > 60) {
      const short = format(date, { month: width < 420 ? "narrow" : "short" });
      // Where the months stand close, the year stands for its first.
      const room = (width * 30) / days;
      if (date.getUTCMonth() !== 0 || width < 420) return short;
      return room < 78 ? String(date.getUTCFullYear()) : `${short} ${date.getUTCFullYear()}`;
    }
    return dayText(date.toISOString().slice(0, 10));
  };
  const wanted = days > 800 ? 7 : days > 60 ? 12 : Math.max(3, Math.floor(width / 90));
  return scale
    .ticks(wanted)
    .filter((at) => scale(at) < width - (days > 60 ? 24 : 48))
    .map((at) => ({ at, x: scale(at), text: text(at), year: /^\d{4}$/.test(text(at)) }));
}

/** The axis itself, with today's flag. */
export function Axis({ scale, width, today }: { scale: TimeScale; width: number; today: string }) {
  const at = scale(day(today));
  const inside = at >= 0 && at <= width;
  return (
    <div className="relative h-9 select-none" aria-hidden>
      {ticks(scale, width).map((tick) => (
        <span
          key={tick.at.getTime()}
          className={`absolute bottom-0.5 border-l border-rule pl-1 text-sm leading-4 whitespace-nowrap ${tick.year ? "font-semibold text-ink" : "text-pencil"}`}
          style={{ left: tick.x }}
        >
          {tick.text}
        </span>
      ))}
      {inside && (
        <span
          className="absolute top-0 -translate-x-1/2 bg-ink px-1.5 text-[0.8125rem] leading-4 font-semibold whitespace-nowrap text-paper"
          style={{ left: at }}
        >
          {dayText(today)}
        </span>
      )}
    </div>
  );
}
