import { scaleLinear } from "d3-scale";
import { day, dayText, plain, yearOf } from "../units/format";
import { Axis, ticks, timeScale } from "./Axis";
import { describeGrowth, growthPaths, mostOf, stretchOf, type Growth } from "./growthPaths";
import { useWidth } from "./useWidth";

const HEIGHT = 150;
/** Room beneath for the cuts. */
const FOOT = 22;

/** Dry matter that stands: up to today in ink, from there on the spread of the years in pencil, cuts as notches. */
export function GrowthDrawing({ growth, today }: { growth: Growth; today: string }) {
  const [width, ref] = useWidth();
  const scale = timeScale(stretchOf(growth), width);
  const y = scaleLinear([0, mostOf(growth) * 1.05], [HEIGHT, 20]);
  const paths = growthPaths(growth, scale, y);
  const now = scale(paths.today);
  return (
    <div ref={ref}>
      {width > 0 && (
        <>
          <Axis scale={scale} width={width} today={today} />
          <svg
            width={width}
            height={HEIGHT + FOOT}
            role="img"
            aria-label={describeGrowth(growth, today)}
            className="block"
          >
            {ticks(scale, width).map((tick) => (
              <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={HEIGHT} stroke="var(--rule)" />
            ))}
            <path d={paths.stood} fill="var(--wash)" />
            <path d={paths.edge} fill="none" stroke="var(--ink)" strokeWidth={1.5} />
            <path d={paths.fan} fill="var(--pencil)" opacity={0.16} />
            <path
              d={paths.middle}
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
            <line x1={now} x2={now} y1={0} y2={HEIGHT} stroke="var(--ink)" strokeWidth={1.5} />
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
