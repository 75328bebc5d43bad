import { DaySlider } from "../draw/Slider";
import { StandingDrawing } from "../draw/StandingDrawing";
import { dayText, plain, yearOf } from "../units/format";
import { middleOf, type Cutting, type Way } from "./ways";

interface Props {
  told: Cutting;
  /** The way that is drawn. */
  way: Way;
  /** Days of one's own, to be dragged; none where another way is drawn. */
  own: readonly string[];
  today: string;
  onMove: (at: number, to: string) => void;
}

/** What stands through the year under one way of cutting; one's own cuts are dragged. */
export function CutDays({ told, way, own, today, onMove }: Props) {
  const year = yearOf(today);
  const done = told.done.map((on) => ({ on, done: true, says: `Cut, ${dayText(on, year)}` }));
  const ahead = way.cuts.map((cut) => ({
    on: cut.on,
    done: false,
    says: `${way.title}, ${dayText(cut.on, year)}: ${plain(middleOf(cut.taken))}`,
  }));
  const describes = [
    `Standing dry matter, ${way.title}`,
    ...done.map((cut) => cut.says),
    ...ahead.map((cut) => cut.says),
  ].join("; ");
  return (
    <StandingDrawing
      curves={told.drawn}
      today={today}
      describes={describes}
      notches={own.length > 0 ? done : [...done, ...ahead]}
      height={210}
    >
      {(scale, width, foot) =>
        own.map((on, at) => {
          const cut = way.cuts[at];
          return (
            <DaySlider
              // The place, not the day: it stays under the hand while it moves.
              key={at}
              label={`Cut ${at + 1}`}
              reads={cut && plain(middleOf(cut.taken))}
              on={on}
              scale={scale}
              width={width}
              top={foot - 6}
              onMove={(to) => onMove(at, to)}
            >
              <svg width={32} height={28} aria-hidden>
                <path d="M9 24l7 -18l7 18z" fill="var(--paper)" stroke="var(--ink)" strokeWidth={2} />
              </svg>
              <span className="absolute top-7 left-1/2 -translate-x-1/2 bg-paper px-0.5 text-[0.8125rem] font-semibold whitespace-nowrap">
                {dayText(on, year)}
              </span>
            </DaySlider>
          );
        })
      }
    </StandingDrawing>
  );
}
