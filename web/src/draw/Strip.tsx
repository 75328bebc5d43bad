import { ofSuchYears } from "../when/years";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { day, dayText } from "../units/format";
import { Tip } from "../kit/Tip";
import { stateWord } from "../units/words";
import { ticks, type TimeScale } from "./Axis";
import { blades, standingOf, StepMark, type Standing } from "./marks";
import { bestOn, chanceAt, percent } from "./odds";
import { DaySlider } from "./Slider";

type Stand = Schemas["StandView"];

export interface Placed {
  key: string;
  /** The outline it is drawn by. */
  mark: string;
  /** How much it matters when there is not room for all. */
  weight: number;
  /** It begins the stand. */
  sowing: boolean;
  standing: Standing;
  /** Left edge of the mark's centre, pixels. */
  x: number;
  /** Where the step's window ends, pixels; equal to x when it is a day. */
  until: number;
  label: string;
  says: string;
  /** 0 on the line, 1 above it, for a mark that would cover another. */
  lane: 0 | 1;
  stand: Stand;
  /** In pencil: the step. */
  step?: Schemas["Step"];
  /** In ink: the entry. */
  entry?: string;
}

/** A step is told from all others by its key and which time of it this is. */
export function stepKey({
  step,
  season,
  occurrence,
}: Pick<Schemas["Step"], "step" | "season" | "occurrence">) {
  return `${step} ${season ?? ""} ${occurrence}`;
}

/** Whether a step begins the stand. */
export function isSowing(step: Schemas["Step"]): boolean {
  return step.look.role === "sowing";
}

function pencilLabel(step: Schemas["Step"], brief: boolean): string {
  if (isSowing(step)) {
    const odds = step.odds ? percent(step.odds.odds) : "";
    // The mark says what and the axis says when: between the blades there is room for the odds alone.
    if (brief && odds) return odds;
    // "sow 20 May 62%", or "plant 20 May".
    return [step.look.planned, dayText(step.from), odds].filter(Boolean).join(" ");
  }
  return step.look.quiet ? "" : step.look.planned;
}

/** Marks of a stand on a time scale: ink where it happened, pencil where it is planned. Brief where there are blades to keep clear of. */
export function placed(stand: Stand, scale: TimeScale, brief = false): Placed[] {
  const at = (text: string) => scale(day(text));
  const year = new Date(stand.plan.today).getUTCFullYear();
  const ink: Placed[] = stand.marks.map((one) => {
    const on = dayText(one.on, year);
    return {
      key: one.entry,
      mark: one.mark,
      weight: one.struck ? 2.5 : one.weight,
      sowing: one.sowing,
      standing: one.struck ? "struck" : "ink",
      x: at(one.on),
      until: at(one.on),
      label: one.struck || one.quiet ? "" : one.word,
      lane: 0,
      says: one.struck ? `${one.word} ${on}, struck` : `${one.word} ${on}, recorded`,
      stand,
      entry: one.entry,
    };
  });
  const pencil: Placed[] = stand.plan.steps
    .filter((step) => !["done", "passed"].includes(step.state.is))
    .map((step) => ({
      // Two stands on one strip may have the same steps.
      key: `${stand.id} ${stepKey(step)}`,
      mark: step.look.mark,
      weight: step.look.weight + (step.state.is === "overdue" ? 2 : 0),
      sowing: isSowing(step),
      standing: standingOf(step.state),
      x: at(step.from),
      until: at(step.to),
      label: pencilLabel(step, brief),
      lane: 0,
      says: [
        `${step.title}, ${dayText(step.from, year)} to ${dayText(step.to, year)}, planned: ${stateWord(step.state)}`,
        ...(step.odds ? [`${percent(step.odds.odds)} ${ofSuchYears(step.odds.basis)}`] : []),
      ].join(", "),
      stand,
      step,
    }));
  return [...ink, ...pencil].sort((a, b) => a.x - b.x);
}

/**
 * Marks that can be told apart: the heavier keep the line, others move one lane up, and what would
 * still cover another is left out until the axis is zoomed.
 */
export function apart(marks: Placed[], width: number): Placed[] {
  const kept: { mark: Placed; from: number; to: number }[] = [];
  for (const mark of [...marks].sort((a, b) => b.weight - a.weight)) {
    // The sowing takes room for its words too: it is what the eye looks for.
    const words = mark.sowing ? wordsWide(mark) : 0;
    const fits = mark.x + 9 + words <= width;
    const [from, to] = fits ? [mark.x - 7, mark.x + 7 + words] : [mark.x - 7 - words, mark.x + 7];
    const free = (lane: 0 | 1) =>
      kept.every((other) => other.mark.lane !== lane || to < other.from || from > other.to);
    if (free(0)) kept.push({ mark, from, to });
    else if (free(1)) kept.push({ mark: { ...mark, lane: 1 }, from, to });
  }
  return kept.map(({ mark }) => mark).sort((a, b) => a.x - b.x);
}

/** How wide a label is drawn, pixels. */
function wordsWide(mark: Placed): number {
  return mark.label === "" ? 0 : mark.label.length * 7 + 6;
}

/** Which labels have room, and on which side: the heaviest first. */
export function roomFor(marks: Placed[], width: number): Map<string, "right" | "left"> {
  const sides = new Map<string, "right" | "left">();
  const taken = marks.map((mark) => ({ lane: mark.lane, from: mark.x - 9, to: mark.x + 9, key: mark.key }));
  for (const mark of [...marks].sort((a, b) => b.weight - a.weight)) {
    if (mark.label === "" || mark.x < 0 || mark.x > width) continue;
    const long = wordsWide(mark);
    const free = (from: number, to: number) =>
      from >= 0 &&
      to <= width &&
      taken.every((one) => one.lane !== mark.lane || one.key === mark.key || to < one.from || from > one.to);
    const claim = (from: number, to: number, side: "right" | "left") => {
      taken.push({ lane: mark.lane, from, to, key: `label ${mark.key}` });
      sides.set(mark.key, side);
    };
    if (free(mark.x + 9, mark.x + 11 + long)) claim(mark.x, mark.x + 11 + long, "right");
    else if (free(mark.x - 11 - long, mark.x - 9)) claim(mark.x - 11 - long, mark.x, "left");
  }
  return sides;
}

/** Where words stand along the strip: nothing is drawn through them. */
export function wordsAt(marks: Placed[], sides: Map<string, "right" | "left">): [number, number][] {
  return marks.flatMap((mark): [number, number][] => {
    const side = sides.get(mark.key);
    if (!side) return [];
    const long = wordsWide(mark) + 4;
    return side === "right" ? [[mark.x + 7, mark.x + 9 + long]] : [[mark.x - 9 - long, mark.x - 7]];
  });
}

interface Props {
  stands: Stand[];
  scale: TimeScale;
  width: number;
  height: number;
  today: string;
  onPick?: (mark: Placed) => void;
  /** Where it is given, a sowing in pencil can be dragged to another day. */
  onMove?: (stand: Stand, on: string, timing: string | undefined) => void;
}

/** One field's line through the year. */
export function StripDrawing({ stands, scale, width, height, today, onPick, onMove }: Props) {
  const base = height - 8;
  const [held, setHeld] = useState<{ stand: string; on: string } | null>(null);
  const now = scale(day(today));
  const marks = stands.flatMap((stand) => placed(stand, scale, true));
  const inView = apart(
    marks.filter((mark) => mark.x > -9 && mark.x < width + 9),
    width,
  );
  const sides = roomFor(inView, width);
  const clear = wordsAt(inView, sides);
  return (
    <div className="relative" style={{ height, width }}>
      <svg width={width} height={height} aria-hidden className="absolute inset-0 overflow-hidden">
        {ticks(scale, width).map((tick) => (
          <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={height} stroke="var(--rule)" />
        ))}
        {stands
          .filter((stand) => stand.windows.length > 0)
          .map((stand) => (
            <path
              key={stand.id}
              d={blades(chanceAt(stand.windows, scale), Math.max(now, 0), width, base, height - 14, clear)}
              stroke="var(--pencil)"
              strokeWidth={1}
              strokeLinecap="round"
              fill="none"
            />
          ))}
        {stands
          .flatMap((stand) => stand.windows)
          .map(({ window, edges: { opens, closes } }, index) => {
            if (!opens || !closes) return null;
            const [left, right] = [Math.max(now, scale(day(opens.on))), scale(day(closes.on))];
            return (
              <line
                key={index}
                data-open={window}
                x1={left}
                x2={Math.max(left, right)}
                y1={base + 4}
                y2={base + 4}
                stroke="var(--pencil)"
                strokeWidth={2}
              />
            );
          })}
        {stands.map((stand) => (
          <Growth key={stand.id} stand={stand} scale={scale} base={base} width={width} now={now} />
        ))}
        {inView
          .filter((mark) => mark.standing === "pencil" || mark.standing === "overdue")
          .map((mark) => (
            <path
              key={mark.key}
              d={`M${mark.x} ${base}H${Math.max(mark.until, mark.x)}v-5`}
              fill="none"
              stroke={mark.standing === "overdue" ? "var(--stop)" : "var(--pencil)"}
              strokeDasharray="3 2.5"
            />
          ))}
        <line x1={now} x2={now} y1={0} y2={height} stroke="var(--ink)" strokeWidth={1.5} />
      </svg>
      {inView.map((mark) => {
        const side = sides.get(mark.key);
        if (onMove && mark.sowing && mark.step) {
          const held_here = held?.stand === mark.stand.id ? held.on : undefined;
          return (
            <MovableSowing
              key={mark.key}
              mark={mark}
              side={side}
              on={held_here}
              scale={scale}
              width={width}
              top={base - 23 - mark.lane * 13}
              onHold={(on) => setHeld({ stand: mark.stand.id, on })}
              onDrop={(on) => onMove(mark.stand, on, bestOn(mark.stand.windows, on)?.window.window)}
              onPick={() => onPick?.(mark)}
            />
          );
        }
        const tone =
          mark.standing === "ink" ? "text-ink" : mark.standing === "overdue" ? "text-stop" : "text-pencil";
        return (
          <Tip key={mark.key} words={mark.says}>
            <button
              type="button"
              aria-label={mark.says}
              disabled={!onPick}
              onClick={() => onPick?.(mark)}
              className="absolute size-6 -translate-x-1/2"
              style={{ left: mark.x, top: base - 19 - mark.lane * 13 }}
            >
              <span className="absolute inset-0 grid place-items-center">
                <StepMark mark={mark.mark} standing={mark.standing} size={13} />
              </span>
              {side && (
                <span
                  className={`absolute top-[3px] bg-paper px-px text-[0.8125rem] leading-[14px] whitespace-nowrap ${tone} ${side === "right" ? "left-[1.45rem]" : "right-[1.45rem]"}`}
                >
                  {mark.label}
                </span>
              )}
            </button>
          </Tip>
        );
      })}
    </div>
  );
}

interface MovableProps {
  mark: Placed;
  side: "right" | "left" | undefined;
  on: string | undefined;
  scale: TimeScale;
  width: number;
  top: number;
  onHold: (on: string) => void;
  onDrop: (on: string) => void;
  onPick: () => void;
}

/** A sowing in pencil: dragged, it reads its odds as it moves; left, it is decided. */
function MovableSowing({ mark, side, on, scale, width, top, onHold, onDrop, onPick }: MovableProps) {
  const { step } = mark;
  if (!step) return null;
  const here = on ?? step.from;
  const odds = on === undefined ? step.odds?.odds : bestOn(mark.stand.windows, here)?.odds;
  const word = step.look.planned;
  const reads = odds === undefined ? undefined : `${percent(odds)} ${ofSuchYears(step.odds?.basis)}`;
  // Held, it says all; at rest what there is room for.
  const label =
    on === undefined
      ? mark.label
      : [word, dayText(here), odds !== undefined && percent(odds)].filter(Boolean).join(" ");
  // While it is held its words stand beside it whatever lies there.
  const beside = on === undefined ? side : scale(day(here)) > width - 130 ? "left" : "right";
  return (
    <DaySlider
      label={`${step.title}: day, ${mark.stand.cover}`}
      reads={reads}
      on={here}
      scale={scale}
      width={width}
      top={top}
      onMove={onHold}
      onDrop={onDrop}
      onPick={onPick}
    >
      <span className="absolute inset-0 grid place-items-center">
        <StepMark mark={mark.mark} standing={mark.standing} size={13} />
      </span>
      {beside && (
        <span
          className={`absolute top-[9px] z-10 bg-paper px-px text-[0.8125rem] leading-[14px] whitespace-nowrap ${on === undefined ? "text-pencil" : "font-semibold text-ink"} ${beside === "right" ? "left-[1.7rem]" : "right-[1.7rem]"}`}
        >
          {label}
        </span>
      )}
    </DaySlider>
  );
}

/** The stand itself: a green line from its sowing, solid as far as today, dashed beyond. */
function Growth({
  stand,
  scale,
  base,
  width,
  now,
}: {
  stand: Stand;
  scale: TimeScale;
  base: number;
  width: number;
  now: number;
}) {
  if (!stand.plan.sown) return null;
  const clip = (x: number) => Math.min(Math.max(x, 0), width);
  const from = clip(scale(day(stand.plan.sown_on)));
  const end = clip(stand.plan.until ? scale(day(stand.plan.until)) : width);
  const solid = Math.min(Math.max(now, from), end);
  return (
    <>
      <rect x={from} y={base - 5} width={Math.max(0, solid - from)} height={5} fill="var(--wash)" />
      <path d={`M${from} ${base}H${solid}`} stroke="var(--growth)" strokeWidth={2} />
      <path d={`M${solid} ${base}H${end}`} stroke="var(--growth)" strokeWidth={1.5} strokeDasharray="2 3" />
    </>
  );
}
