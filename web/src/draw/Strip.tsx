import type { Schemas } from "../api/client";
import { day, dayText } from "../units/format";
import { stateWord, stepNames } from "../units/words";
import { ticks, type TimeScale } from "./Axis";
import { standingOf, StepMark, type Standing } from "./marks";

type Stand = Schemas["StandView"];

export interface Placed {
  key: string;
  kind: Schemas["StepKind"];
  standing: Standing;
  /** Left edge of the mark's centre, pixels. */
  x: number;
  /** Where the step's window ends, pixels; equal to x when it is a day. */
  until: number;
  label: string;
  says: string;
  stand: Stand;
  entry?: string;
}

/** Marks of a stand on a time scale: ink where it happened, pencil where it is planned. */
export function placed(stand: Stand, scale: TimeScale): Placed[] {
  const at = (text: string) => scale(day(text));
  const year = new Date(stand.plan.today).getUTCFullYear();
  const ink: Placed[] = stand.marks.map((mark) => {
    const word = stepNames[mark.kind].ink;
    const on = dayText(mark.on, year);
    return {
      key: mark.entry,
      kind: mark.kind,
      standing: mark.struck ? "struck" : "ink",
      x: at(mark.on),
      until: at(mark.on),
      label: mark.struck ? "" : word,
      says: mark.struck ? `${word} ${on}, struck` : `${word} ${on}, in ink`,
      stand,
      entry: mark.entry,
    };
  });
  const pencil: Placed[] = stand.plan.steps
    .filter((step) => !["done", "passed"].includes(step.state.is))
    .map((step) => ({
      key: step.kind,
      kind: step.kind,
      standing: standingOf(step.state),
      x: at(step.from),
      until: at(step.to),
      label:
        step.kind === "sow" ? `${stepNames.sow.pencil} ${dayText(step.from)}` : stepNames[step.kind].pencil,
      says: `${step.title}, ${dayText(step.from, year)} to ${dayText(step.to, year)}, in pencil: ${stateWord(step.state)}`,
      stand,
    }));
  return [...ink, ...pencil].sort((a, b) => a.x - b.x);
}

/** Which labels have room: sowing first, then whatever does not touch a neighbour. */
export function roomFor(marks: Placed[], width: number): Map<string, "right" | "left"> {
  const sides = new Map<string, "right" | "left">();
  const taken = marks.map((mark) => [mark.x - 9, mark.x + 9] as [number, number]);
  const free = (from: number, to: number, own: number) =>
    from >= 0 && to <= width && taken.every(([a, b], index) => index === own || to < a || from > b);
  const order = marks.map((_, index) => index).sort((a, b) => weight(marks[b]) - weight(marks[a]));
  for (const index of order) {
    const mark = marks[index];
    if (!mark || mark.label === "" || mark.x < 0 || mark.x > width) continue;
    const long = mark.label.length * 7 + 6;
    if (free(mark.x + 9, mark.x + 11 + long, index)) {
      sides.set(mark.key, "right");
      taken.push([mark.x, mark.x + 11 + long]);
    } else if (free(mark.x - 11 - long, mark.x - 9, index)) {
      sides.set(mark.key, "left");
      taken.push([mark.x - 11 - long, mark.x]);
    }
  }
  return sides;
}

function weight(mark: Placed | undefined): number {
  if (!mark) return 0;
  return (mark.kind === "sow" ? 2 : 0) + (mark.standing === "overdue" ? 1 : 0);
}

interface Props {
  stands: Stand[];
  scale: TimeScale;
  width: number;
  height: number;
  today: string;
  onPick?: (mark: Placed) => void;
}

/** One field's line through the year. */
export function StripDrawing({ stands, scale, width, height, today, onPick }: Props) {
  const base = height - 9;
  const now = scale(day(today));
  const marks = stands.flatMap((stand) => placed(stand, scale)).sort((a, b) => a.x - b.x);
  const inView = marks.filter((mark) => mark.x > -9 && mark.x < width + 9);
  const sides = roomFor(inView, width);
  return (
    <div className="relative" style={{ height, width }}>
      <svg width={width} height={height} aria-hidden className="absolute inset-0 overflow-hidden">
        {ticks(scale, width).map((tick) => (
          <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={height} stroke="var(--rule)" />
        ))}
        {stands.map((stand) => (
          <Growth key={stand.id} stand={stand} scale={scale} base={base} width={width} now={now} />
        ))}
        {inView
          .filter((mark) => mark.standing === "pencil" || mark.standing === "overdue")
          .map((mark) => (
            <path
              key={mark.stand.id + mark.key}
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
        const tone =
          mark.standing === "ink" ? "text-ink" : mark.standing === "overdue" ? "text-stop" : "text-pencil";
        return (
          <button
            key={mark.stand.id + mark.key}
            type="button"
            title={mark.says}
            aria-label={mark.says}
            disabled={!onPick}
            onClick={() => onPick?.(mark)}
            className="absolute size-6 -translate-x-1/2"
            style={{ left: mark.x, top: base - 19 }}
          >
            <span className="absolute inset-0 grid place-items-center">
              <StepMark kind={mark.kind} standing={mark.standing} size={13} />
            </span>
            {side && (
              <span
                className={`absolute top-1 text-[0.8125rem] leading-4 whitespace-nowrap ${tone} ${side === "right" ? "left-[1.45rem]" : "right-[1.45rem]"}`}
              >
                {mark.label}
              </span>
            )}
          </button>
        );
      })}
    </div>
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
