import { scaleLinear } from "d3-scale";
import { ticks, type TimeScale } from "../draw/Axis";
import { describeGrowth, growthPaths, type Growth } from "../draw/growthPaths";
import { day } from "../units/format";

interface Props {
  growth: Growth | undefined;
  /** Why nothing is told of it. */
  untold: string | undefined;
  /** The most that stands on any field of the farm: one scale for all. */
  most: number;
  scale: TimeScale;
  width: number;
  height: number;
  today: string;
}

/** Room beneath for the notches of the cuts. */
const FOOT = 9;
/** A cut's tonnes are this wide, in pixels. */
const FIGURE = 26;

/** One field's standing dry matter through the year, to the farm's scale, with what its cuts give. */
export function GrowthStrip({ growth, untold, most, scale, width, height, today }: Props) {
  const base = height - FOOT;
  const now = scale(day(today));
  const y = scaleLinear([0, most * 1.02], [base, 4]);
  const paths = growth && growthPaths(growth, scale, y);
  const cuts = (growth?.cuts ?? [])
    .map((cut) => ({ cut, x: scale(day(cut.on)) }))
    .filter(({ x }) => x > -4 && x < width + 4);
  // Where notches stand close, every other figure would cover its neighbour: it is left out.
  const told = cuts.filter(({ x }, index) => index === 0 || x - (cuts[index - 1]?.x ?? 0) >= FIGURE);
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={growth ? describeGrowth(growth, today) : (untold ?? "Growth is being modelled")}
      className="block shrink-0 overflow-hidden"
      data-growth={growth ? "told" : untold ? "untold" : "waiting"}
    >
      {ticks(scale, width).map((tick) => (
        <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={height} stroke="var(--rule)" />
      ))}
      {paths && (
        <>
          <path d={paths.stood} fill="var(--wash)" />
          <path d={paths.edge} fill="none" stroke="var(--growth)" strokeWidth={1.5} />
          <path d={paths.fan} fill="var(--growth)" opacity={0.14} />
          <path
            d={paths.middle}
            fill="none"
            stroke="var(--growth)"
            strokeWidth={1.25}
            strokeDasharray="4 3"
          />
        </>
      )}
      {untold && (
        <text x={Math.max(now, 0) + 8} y={base - 6} fontSize={13} fill="var(--pencil)">
          {untold}
        </text>
      )}
      <line x1={0} x2={width} y1={base} y2={base} stroke="var(--rule)" />
      <line x1={now} x2={now} y1={0} y2={height} stroke="var(--ink)" strokeWidth={1.5} />
      {cuts.map(({ cut, x }) => (
        <path
          key={cut.on}
          d={`M${x - 4} ${height - 1}l4 -8l4 8z`}
          fill={cut.done ? "var(--ink)" : "var(--paper)"}
          stroke={cut.done ? "var(--ink)" : "var(--pencil)"}
          strokeWidth={1.25}
        />
      ))}
      {told.map(({ cut, x }) => (
        <text
          key={cut.on}
          x={x + 7}
          y={base - 2}
          fontSize={13}
          fontWeight={cut.done ? 650 : 400}
          fill={cut.done ? "var(--ink)" : "var(--pencil)"}
          stroke="var(--paper)"
          strokeWidth={3}
          paintOrder="stroke"
        >
          {tonnes(cut)}
        </text>
      ))}
    </svg>
  );
}

/** What a cut gave, weighed where it was, or gives in half of the years. */
function tonnes({ weighed, taken }: Growth["cuts"][number]): string {
  return (weighed?.value ?? taken.values[1] ?? 0).toFixed(1);
}
