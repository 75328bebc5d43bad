import type { ReactNode } from "react";
import { scaleLinear } from "d3-scale";
import { day, plain } from "../units/format";
import { Axis, ticks, timeScale, type TimeScale } from "./Axis";
import { growthPaths, mostOf, stretchOf, type Curves } from "./growthPaths";
import { useWidth } from "./useWidth";

/** Room beneath for the cuts. */
const FOOT = 22;

export interface Notch {
  on: string;
  done: boolean;
  says: string;
}

interface Props {
  curves: Curves;
  today: string;
  /** The drawing in words. */
  describes: string;
  notches: readonly Notch[];
  height?: number;
  /** What is laid over it: where a day lies, how wide it is, and where its foot is. */
  children?: (scale: TimeScale, width: number, foot: number) => ReactNode;
}

/** Dry matter that stands: up to today in ink, from there on the spread of the years in pencil, cuts as notches. */
export function StandingDrawing({ curves, today, describes, notches, height = 150, children }: Props) {
  const [width, ref] = useWidth();
  const scale = timeScale(stretchOf(curves), width);
  const y = scaleLinear([0, mostOf(curves) * 1.05], [height, 20]);
  const paths = growthPaths(curves, scale, y);
  const now = scale(paths.today);
  return (
    <div ref={ref}>
      {width > 0 && (
        <>
          <Axis scale={scale} width={width} today={today} />
          <div className="relative">
            <svg width={width} height={height + FOOT} role="img" aria-label={describes} className="block">
              {ticks(scale, width).map((tick) => (
                <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={height} stroke="var(--rule)" />
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
                      {plain({ value, unit: curves.middle.unit })}
                    </text>
                  </g>
                ))}
              <line x1={0} x2={width} y1={height} y2={height} stroke="var(--ink)" />
              <line x1={now} x2={now} y1={0} y2={height} stroke="var(--ink)" strokeWidth={1.5} />
              {notches.map((cut) => {
                const x = scale(day(cut.on));
                return (
                  <path
                    key={cut.on}
                    d={`M${x - 5} ${height + 13}l5 -12l5 12z`}
                    fill={cut.done ? "var(--ink)" : "var(--paper)"}
                    stroke={cut.done ? "var(--ink)" : "var(--pencil)"}
                    strokeWidth={1.5}
                  >
                    <title>{cut.says}</title>
                  </path>
                );
              })}
            </svg>
            {children?.(scale, width, height)}
          </div>
        </>
      )}
    </div>
  );
}
