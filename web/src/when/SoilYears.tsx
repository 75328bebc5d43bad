import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { Schemas } from "../api/client";
import { ticks, type TimeScale } from "../draw/Axis";
import { Figure } from "../kit/Figure";
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

/** A morning of every day is known here: none is left out. */
const drawn = ({ values }: Schemas["Series"]) => values.map((value) => value ?? 0);

/** The soil on the mornings of each year, faint, and of this year so far, dark. */
export function SoilYears({ view, from, scale, width, on, today }: Props) {
  const [first] = view.soil_years;
  if (!first) return null;
  const start = day(from).getTime();
  const x = (index: number) => scale(new Date(start + index * DAY));
  const years = view.soil_years.map(drawn);
  const soFar = drawn(view.soil_so_far);
  const all = years.flat();
  const y = scaleLinear([Math.min(...all), Math.max(...all)], [HEIGHT - 3, 4]);
  const path = line<number>()
    .x((_, index) => x(index))
    .y((value) => y(value));
  const unit = shown({ value: 0, unit: first.unit }).unit;
  return (
    <div className="sm:flex">
      <div className="w-50 shrink-0 pt-1 pr-2 text-sm text-pencil max-sm:w-full">
        <p className="text-[0.9375rem] font-semibold text-ink">Morning soil temperature, {unit}</p>
        <p>
          at <Figure quantity={view.depth} />: past years faint, this year dark, forecast where lines continue
          together
        </p>
      </div>
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Morning soil temperature: ${soFar.length} days this year and ${years.length} past years`}
        className="block overflow-hidden"
      >
        {ticks(scale, width).map((tick) => (
          <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={HEIGHT} stroke="var(--rule)" />
        ))}
        {years.map((values, index) => (
          <path
            key={index}
            d={path(values) ?? ""}
            fill="none"
            stroke="var(--straw)"
            strokeWidth={0.7}
            opacity={0.5}
          />
        ))}
        <path d={path(soFar) ?? ""} fill="none" stroke="var(--ink)" strokeWidth={1.3} />
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
              {plain(view.soil_wanted)} needed
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
