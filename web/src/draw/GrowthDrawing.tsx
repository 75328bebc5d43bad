import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import type { Schemas } from "../api/client";
import { day, dayText, plain, yearOf } from "../units/format";
import { Axis, ticks, timeScale } from "./Axis";
import { useWidth } from "./useWidth";

export type Growth = NonNullable<Schemas["GrowthView"]["told"]>["value"];

const DAY = 86_400_000;
const HEIGHT = 150;
/** Room beneath for the cuts. */
const FOOT = 22;

/** Dry matter that stands: up to today in ink, from there on the spread of the years in pencil, cuts as notches. */
export function GrowthDrawing({ growth, today }: { growth: Growth; today: string }) {
  const [width, ref] = useWidth();
  const from = day(growth.from).getTime();
  const known = growth.so_far.values.length;
  const start = from + known * DAY;
  const end = start + growth.middle.values.length * DAY;
  const scale = timeScale({ from: new Date(from), to: new Date(end) }, width);
  const told = (values: readonly (number | null)[]) => values.map((value) => value ?? 0);
  const [soFar, low, middle, high] = [growth.so_far, growth.low, growth.middle, growth.high].map((series) =>
    told(series.values),
  ) as [number[], number[], number[], number[]];
  const most = Math.max(1, ...soFar, ...high);
  const y = scaleLinear([0, most * 1.05], [HEIGHT, 20]);
  const past = (index: number) => scale(new Date(from + index * DAY));
  const ahead = (index: number) => scale(new Date(start + index * DAY));
  const stood = area<number>()
    .x((_, index) => past(index))
    .y0(HEIGHT)
    .y1((value) => y(value));
  const fan = area<number>()
    .x((_, index) => ahead(index))
    .y0((_, index) => y(low[index] ?? 0))
    .y1((value) => y(value));
  const usual = line<number>()
    .x((_, index) => ahead(index))
    .y((value) => y(value));
  return (
    <div ref={ref}>
      {width > 0 && (
        <>
          <Axis scale={scale} width={width} today={today} />
          <svg
            width={width}
            height={HEIGHT + FOOT}
            role="img"
            aria-label={describe(growth, today)}
            className="block"
          >
            {ticks(scale, width).map((tick) => (
              <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={HEIGHT} stroke="var(--rule)" />
            ))}
            <path d={stood(soFar) ?? ""} fill="var(--wash)" />
            <path
              d={
                line<number>()
                  .x((_, index) => past(index))
                  .y((value) => y(value))(soFar) ?? ""
              }
              fill="none"
              stroke="var(--ink)"
              strokeWidth={1.5}
            />
            <path d={fan(high) ?? ""} fill="var(--pencil)" opacity={0.16} />
            <path
              d={usual(middle) ?? ""}
              fill="none"
              stroke="var(--pencil)"
              strokeWidth={1.5}
              strokeDasharray="4 3"
            />
            {y
              .ticks(3)
              .slice(1)
              .map((value) => (
                <g key={value}>
                  <line
                    x1={0}
                    x2={width}
                    y1={y(value)}
                    y2={y(value)}
                    stroke="var(--pencil)"
                    strokeDasharray="1 5"
                  />
                  <text x={3} y={y(value) - 3} fontSize={13} fill="var(--pencil)">
                    {plain({ value, unit: growth.middle.unit })}
                  </text>
                </g>
              ))}
            <line x1={0} x2={width} y1={HEIGHT} y2={HEIGHT} stroke="var(--ink)" />
            <line x1={ahead(0)} x2={ahead(0)} y1={0} y2={HEIGHT} stroke="var(--ink)" strokeWidth={1.5} />
            {growth.cuts.map((cut) => {
              const x = scale(day(cut.on));
              return (
                <path
                  key={cut.on}
                  d={`M${x - 5} ${HEIGHT + 13}l5 -12l5 12z`}
                  fill={cut.done ? "var(--ink)" : "var(--paper)"}
                  stroke={cut.done ? "var(--ink)" : "var(--pencil)"}
                  strokeWidth={1.5}
                >
                  <title>{`${cut.done ? "Cut" : "Planned cut"}, ${dayText(cut.on, yearOf(today))}`}</title>
                </path>
              );
            })}
          </svg>
        </>
      )}
    </div>
  );
}

function describe(growth: Growth, today: string): string {
  const cuts = growth.cuts.map(
    (cut) => `${cut.done ? "cut" : "planned cut"} ${dayText(cut.on, yearOf(today))}`,
  );
  return [`Standing dry matter: ${plain(growth.above)} above the stubble`, ...cuts].join(", ");
}
