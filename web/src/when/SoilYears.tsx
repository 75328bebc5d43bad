import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { Schemas } from "../api/client";
import { ticks, type TimeScale } from "../draw/Axis";
import { Figure } from "../ui/Figure";
import { day, plain, shown } from "../units/format";

const DAY = 86_400_000;
const HEIGHT = 104;

interface Props {
  view: Schemas["WindowsView"];
  from: string;
  scale: TimeScale;
  width: number;
  on: string;
  today: string;
}

/** The soil on the mornings of each year, faint, and of this year so far, dark. */
export function SoilYears({ view, from, scale, width, on, today }: Props) {
  if (view.soil_years.length === 0) return null;
  const start = day(from).getTime();
  const x = (index: number) => scale(new Date(start + index * DAY));
  const all = view.soil_years.flat();
  const y = scaleLinear([Math.min(...all), Math.max(...all)], [HEIGHT - 3, 4]);
  const path = line<number>()
    .x((_, index) => x(index))
    .y((value) => y(value));
  const unit = shown({ value: 0, unit: view.temperature_unit }).unit;
  return (
    <div className="sm:flex">
      <div className="w-50 shrink-0 pt-1 pr-2 text-sm text-pencil max-sm:w-full">
        <p className="text-[0.9375rem] font-semibold text-ink">Soil in the morning, {unit}</p>
        <p>
          at <Figure quantity={view.depth} />: faint each year, dark this one; where they run on together it
          is the forecast
        </p>
      </div>
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Morning soil temperature, ${view.soil_so_far.length} days of this year and ${view.soil_years.length} years`}
        className="block overflow-hidden"
      >
        {ticks(scale, width).map((tick) => (
          <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={HEIGHT} stroke="var(--rule)" />
        ))}
        {view.soil_years.map((values, index) => (
          <path
            key={index}
            d={path(values) ?? ""}
            fill="none"
            stroke="var(--straw)"
            strokeWidth={0.7}
            opacity={0.5}
          />
        ))}
        <path d={path(view.soil_so_far) ?? ""} fill="none" stroke="var(--ink)" strokeWidth={1.3} />
        {view.soil_wanted && (
          <>
            <line
              x1={0}
              x2={width}
              y1={y(view.soil_wanted.value)}
              y2={y(view.soil_wanted.value)}
              stroke="var(--ink)"
              strokeDasharray="1 3"
            />
            <text x={3} y={y(view.soil_wanted.value) - 3} fontSize={13} fill="var(--ink)">
              {plain(view.soil_wanted)} wanted
            </text>
          </>
        )}
        <line
          x1={scale(day(today))}
          x2={scale(day(today))}
          y1={0}
          y2={HEIGHT}
          stroke="var(--ink)"
          strokeWidth={1.5}
        />
        <line
          x1={scale(day(on))}
          x2={scale(day(on))}
          y1={0}
          y2={HEIGHT}
          stroke="var(--ink)"
          strokeWidth={2}
        />
      </svg>
    </div>
  );
}
