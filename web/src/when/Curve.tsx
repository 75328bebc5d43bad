import { worthOf } from "./years";
import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import type { Schemas } from "../api/client";
import { Axis, ticks, type TimeScale } from "../draw/Axis";
import { blades, StepMark } from "../draw/marks";
import { chanceAt, oddsOn, percent } from "../draw/odds";
import { DaySlider } from "../draw/Slider";
import { day, dayText } from "../units/format";

const DAY = 86_400_000;
const HEIGHT = 168;

interface Props {
  answer: Schemas["WindowAnswer"];
  level: number;
  scale: TimeScale;
  width: number;
  on: string;
  onMove: (on: string) => void;
  today: string;
}

/** The tuft, large: blades under the odds by day, with the band that so many years allow. */
export function Curve({ answer, level, scale, width, on, onMove, today }: Props) {
  const { curve, edges } = answer;
  const start = day(curve.from).getTime();
  const x = (index: number) => scale(new Date(start + index * DAY));
  const y = scaleLinear([0, 1], [HEIGHT - 1, 12]);
  const sure = area<number>()
    .x((_, index) => x(index))
    .y0((value) => y(value))
    .y1((_, index) => y(curve.high[index] ?? 0));
  const outline = line<number>()
    .x((_, index) => x(index))
    .y((value) => y(value));
  const now = scale(day(today));
  const here = oddsOn(curve, on);
  return (
    <div className="sm:flex">
      <div className="w-50 shrink-0 pt-9 pr-2 text-sm text-pencil max-sm:w-full max-sm:pt-1">
        <p className="text-[0.9375rem] font-semibold text-ink">All conditions</p>
        <p>Blades: share of years when every condition was met. Gray: likely range from {worthOf(curve)}</p>
        {curve.left_out > 0 && <p>{curve.left_out} years left out (missing days)</p>}
      </div>
      <div>
        <Axis scale={scale} width={width} today={today} />
        <div className="relative" style={{ height: HEIGHT, width }}>
          <svg
            width={width}
            height={HEIGHT}
            role="img"
            aria-label={describe(answer)}
            className="absolute inset-0 overflow-hidden"
          >
            {ticks(scale, width).map((tick) => (
              <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={HEIGHT} stroke="var(--rule)" />
            ))}
            <path d={sure(curve.low) ?? ""} fill="var(--pencil)" opacity={0.14} />
            <path
              d={blades(
                chanceAt([curve], scale),
                Math.max(0, x(0), now),
                Math.min(width, x(curve.odds.length)),
                HEIGHT - 1,
                HEIGHT - 13,
              )}
              stroke="var(--ink)"
              strokeWidth={1.1}
              strokeLinecap="round"
              fill="none"
            />
            <path
              d={outline(curve.odds) ?? ""}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={0.8}
              opacity={0.45}
            />
            <line
              x1={0}
              x2={width}
              y1={y(level)}
              y2={y(level)}
              stroke="var(--pencil)"
              strokeDasharray="1 3"
            />
            <text x={3} y={y(level) - 3} fontSize={13} fill="var(--pencil)">
              {percent(level)}
            </text>
            {[edges.opens, edges.closes].map(
              (edge) =>
                edge && (
                  <line
                    key={edge.on}
                    x1={scale(day(edge.on))}
                    x2={scale(day(edge.on))}
                    y1={y(level) - 7}
                    y2={HEIGHT}
                    stroke="var(--ink)"
                  />
                ),
            )}
            <line x1={0} x2={width} y1={HEIGHT - 0.5} y2={HEIGHT - 0.5} stroke="var(--ink)" />
            <line x1={now} x2={now} y1={0} y2={HEIGHT} stroke="var(--ink)" strokeWidth={1.5} />
            <line
              x1={scale(day(on))}
              x2={scale(day(on))}
              y1={here === undefined ? 20 : y(here)}
              y2={HEIGHT}
              stroke="var(--ink)"
              strokeWidth={2}
            />
          </svg>
          <DaySlider
            label="Sowing date"
            reads={here === undefined ? undefined : `${percent(here)} of years`}
            on={on}
            scale={scale}
            width={width}
            top={(here === undefined ? 20 : y(here)) - 26}
            onMove={onMove}
          >
            <span className="absolute inset-0 grid place-items-center">
              <StepMark mark="seed" standing="pencil" size={18} />
            </span>
          </DaySlider>
        </div>
      </div>
    </div>
  );
}

function describe({ name, curve, edges }: Schemas["WindowAnswer"]): string {
  const { opens, best, closes } = edges;
  const peak = best ? `best ${dayText(best.on, 0)} at ${percent(best.odds)}` : "never";
  const stretch = opens && closes ? `, open ${dayText(opens.on, 0)} to ${dayText(closes.on, 0)}` : "";
  return `Sowing odds, ${name}, from ${worthOf(curve)}: ${peak}${stretch}`;
}
