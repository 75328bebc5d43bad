import { ofSuchYears } from "../when/years";
import type { Schemas } from "../api/client";
import { Axis, timeScale } from "../draw/Axis";
import { blades, StepMark, standingOf } from "../draw/marks";
import { bestOn, chanceAt, percent } from "../draw/odds";
import { DaySlider } from "../draw/Slider";
import { apart, isSowing, placed, roomFor, wordsAt } from "../draw/Strip";
import { useRevealed, useSpan } from "../draw/span";
import { useWidth } from "../draw/useWidth";
import { Tip } from "../kit/Tip";
import { day, dayText } from "../units/format";

const HEIGHT = 94;
/** What is left free above the blades, for the words of the sowing: they hide nothing of the odds they tell. */
const WORDS = 26;

interface Props {
  plan: Schemas["Plan"];
  /** When it could be sown, by the years. */
  windows: Schemas["StripWindow"][];
  sowOn: string;
  onSowOn: (day: string) => void;
  today: string;
}

/** The year with the plan in pencil; the sowing mark is dragged, or moved with the arrow keys. */
export function SowingStrip({ plan, windows, sowOn, onSowOn, today }: Props) {
  const [width, ref] = useWidth();
  const { span } = useSpan();
  // A day that was proposed or chosen is seen; one that is dragged stays under the hand.
  useRevealed(sowOn);
  const scale = timeScale(span, width);
  const base = HEIGHT - 16;
  const stand = { id: "draft", marks: [], plan, windows: [] } as unknown as Schemas["StandView"];
  const all = apart(
    placed(stand, scale).map((mark) => (mark.sowing ? { ...mark, x: scale(day(sowOn)) } : mark)),
    width,
  );
  const sides = roomFor(all, width);
  const marks = all.filter((mark) => !mark.sowing);
  const begins = all.find((mark) => mark.sowing);
  const side = begins && sides.get(begins.key);
  const now = scale(day(today));
  const read = bestOn(windows, sowOn);
  const sow = plan.steps.find(isSowing);
  const reads = read && `${percent(read.odds)} ${ofSuchYears(sow?.odds?.basis)}, ${read.window.name}`;

  return (
    <div>
      <div ref={ref}>
        <Axis scale={scale} width={width} today={today} />
      </div>
      <div className="relative border-y border-rule" style={{ height: HEIGHT }}>
        <svg width={width} height={HEIGHT} aria-hidden className="absolute inset-0">
          <line x1={0} x2={width} y1={base} y2={base} stroke="var(--rule)" />
          <path
            d={blades(
              chanceAt(windows, scale),
              Math.max(now, 0),
              width,
              base,
              base - WORDS,
              wordsAt(marks, sides),
            )}
            stroke="var(--pencil)"
            strokeWidth={1.1}
            strokeLinecap="round"
            fill="none"
          />
          <line x1={now} x2={now} y1={0} y2={HEIGHT} stroke="var(--ink)" strokeWidth={1.5} />
          {marks.map((mark) => (
            <path
              key={mark.key}
              d={`M${mark.x} ${base}H${mark.until}v-6`}
              fill="none"
              stroke={mark.standing === "overdue" ? "var(--stop)" : "var(--pencil)"}
              strokeDasharray="3 2.5"
            />
          ))}
        </svg>
        {marks.map((mark) => (
          <Tip key={mark.key} words={mark.says}>
            <span className="absolute" style={{ left: mark.x - 7, top: base - 20 - mark.lane * 17 }}>
              <StepMark mark={mark.mark} standing={mark.standing} size={14} />
              {sides.get(mark.key) && (
                <span
                  className={`absolute -top-0.5 text-[0.8125rem] whitespace-nowrap text-pencil ${sides.get(mark.key) === "right" ? "left-4.5" : "right-4.5"}`}
                >
                  {mark.label}
                </span>
              )}
            </span>
          </Tip>
        ))}
        <DaySlider
          label="Sowing date"
          reads={reads}
          on={sowOn}
          scale={scale}
          width={width}
          top={base - 30}
          onMove={onSowOn}
        >
          <span className="absolute inset-0 grid place-items-center">
            <StepMark
              mark={sow?.look.mark ?? "seed"}
              standing={sow ? standingOf(sow.state) : "pencil"}
              size={20}
            />
          </span>
          {side && (
            <span
              className={`absolute bg-paper px-0.5 text-sm font-semibold whitespace-nowrap ${side === "right" ? "left-4" : "right-4"}`}
              style={{ top: 2 - (base - 30) }}
            >
              {sow?.look.planned ?? "sow"} {dayText(sowOn)}
              {read && ` ${percent(read.odds)}`}
            </span>
          )}
        </DaySlider>
      </div>
    </div>
  );
}
