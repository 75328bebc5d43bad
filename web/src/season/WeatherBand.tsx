import { ofSuchYears } from "../when/years";
import { Link } from "@tanstack/react-router";
import { scaleLinear } from "d3-scale";
import { line, area } from "d3-shape";
import type { Schemas } from "../api/client";
import { useHours, useWeather } from "../api/queries";
import { ticks, type TimeScale } from "../draw/Axis";
import type { Span } from "../draw/span";
import type { Farm } from "../shell/farm";
import { Figure } from "../kit/Figure";
import { day, dayText, isoDay, plain, shown, yearOf } from "../units/format";

const DAY = 86_400_000;
const AIR = 58;
const RAIN = 17;
const FROST = 20;
const BAND_HEIGHT = AIR + RAIN + FROST;

/** More days than this can't be told apart. */
const MOST = 1000;
/** Up to so many, hours can. */
const HOURLY = 40;

interface Props {
  farm: Farm;
  span: Span;
  scale: TimeScale;
  width: number;
  today: string;
}

/** Temperature, rain, soil and frost along the axis: this year in ink on the band of all years. */
export function WeatherBand({ farm, span, scale, width, today }: Props) {
  const days = (span.to.getTime() - span.from.getTime()) / DAY;
  const fits = days <= MOST;
  const weather = useWeather(farm.id, isoDay(span.from), isoDay(span.to), fits);
  const hours = useHours(farm.id, isoDay(span.from), isoDay(span.to), days <= HOURLY);
  const view = weather.data;
  if (!fits) return <p className="py-1 pl-50 text-sm text-pencil max-sm:pl-0">Zoom in to see weather.</p>;
  if (!view) return <div style={{ height: BAND_HEIGHT }} />;
  return (
    <section aria-label="Weather" className="pb-1 sm:flex">
      <Head farm={farm} view={view} />
      {view.band && width > 0 ? (
        <Drawing
          band={view.band}
          view={view}
          hours={days <= HOURLY ? hours.data : undefined}
          scale={scale}
          width={width}
          today={today}
        />
      ) : (
        <p className="text-sm text-pencil">
          No weather years yet. A climate table is enough to start; thirty years of daily records are best.
        </p>
      )}
    </section>
  );
}

const toTenth = ({ value, unit }: Schemas["Quantity"]) => ({ value: Math.round(value * 10) / 10, unit });

function Head({ farm, view }: { farm: Farm; view: Schemas["WeatherView"] }) {
  const unit = view.band ? shown({ value: 0, unit: view.band.low.unit }).unit : "";
  const station = view.station;
  return (
    <div className="w-50 shrink-0 pr-2 leading-tight max-sm:w-full">
      <p className="text-[0.9375rem] font-semibold">
        Air and soil
        {unit && `, ${unit}`}
      </p>
      <p className="text-sm text-pencil">
        <Link
          to="/farms/$farm/set-up/weather"
          params={{ farm: farm.id }}
          className="underline decoration-dotted"
        >
          {view.basis === "normals" ? "from average weather" : station ? station.name : "add weather"}
        </Link>
      </p>
      {station && station.days_behind > 0 && (
        <p role="status" className="text-sm font-semibold text-stop">
          ✕ {station.days_behind} days out of date{station.trouble ? ": no data from the station" : ""}
        </p>
      )}
      {view.rain_so_far && (
        <p className="pt-1 text-sm">
          Rain <Figure quantity={toTenth(view.rain_so_far)} />
          {view.rain_usual && (
            <span className="block text-pencil">
              average to date <Figure quantity={toTenth(view.rain_usual)} />
            </span>
          )}
        </p>
      )}
    </div>
  );
}

interface DrawingProps {
  band: Schemas["BandView"];
  view: Schemas["WeatherView"];
  /** Drawn instead of the days' means, where they can be told apart. */
  hours: Schemas["HoursView"] | undefined;
  scale: TimeScale;
  width: number;
  today: string;
}

/** The crossing of one half in each run of the frost odds, for its words. */
function halves(frost: number[]): { rises: number[]; falls: number[] } {
  const rises: number[] = [];
  const falls: number[] = [];
  for (let index = 1; index < frost.length; index++) {
    const [before, here] = [frost[index - 1] ?? 0, frost[index] ?? 0];
    if (before < 0.5 && here >= 0.5) rises.push(index);
    if (before >= 0.5 && here < 0.5) falls.push(index);
  }
  return { rises, falls };
}

function Drawing({ band, view, hours, scale, width, today }: DrawingProps) {
  const start = day(band.from).getTime();
  const x = (index: number) => scale(new Date(start + index * DAY));
  const air = hours ?? { from: band.from, temperature: band.temperature };
  const [temperature, fell] = [air.temperature.values, band.rain.values];
  const [low, high] = [
    band.low.values.map((value) => value ?? 0),
    band.high.values.map((value) => value ?? 0),
  ];
  const [soil, forecastLow, forecastHigh] = [
    band.soil.values,
    band.forecast_low.values,
    band.forecast_high.values,
  ];
  const told = [...temperature, ...soil, ...forecastLow, ...forecastHigh].filter((value) => value != null);
  const y = scaleLinear([Math.min(...low, ...told) - 1, Math.max(...high, ...told) + 1], [AIR - 2, 3]);
  const spread = area<number>()
    .x((_, index) => x(index))
    .y0((_, index) => y(low[index] ?? 0))
    .y1((_, index) => y(high[index] ?? 0));
  const known = (values: (number | null)[], at: (index: number) => number = x) =>
    line<number | null>()
      .defined((value) => value != null)
      .x((_, index) => at(index))
      .y((value) => y(value ?? 0))(values) ?? "";
  // The mean of an hour stands in its middle.
  const hourly = (index: number) => scale(new Date(day(air.from).getTime() + (index + 0.5) * (DAY / 24)));
  const fan = area<number | null>()
    .defined((value) => value != null)
    .x((_, index) => x(index))
    .y0((value) => y(value ?? 0))
    .y1((_, index) => y(forecastHigh[index] ?? 0));
  const wettest = Math.max(...fell.map((rain) => rain ?? 0), band.rain.unit === "in" ? 1 : 25);
  const drop = (fell: number) => Math.max(1.5, (fell / wettest) * (RAIN - 3));
  const rain = fell
    .map((fell, index) => (fell ? `M${x(index).toFixed(1)} ${AIR + RAIN}v${(-drop(fell)).toFixed(1)}` : ""))
    .join("");
  const now = scale(day(today));
  const year = yearOf(today);
  const on = (index: number) => dayText(isoDay(new Date(start + index * DAY)), year);
  const frostTop = AIR + RAIN + 2;
  const { rises, falls } = halves(band.frost);
  const killing = view.frost.find((one) => plain(one.threshold) === plain(killingIn(view)));
  const [coldest, warmest] = y.domain() as [number, number];
  // A place that is never so cold has no use for the line.
  // No room at the left of the drawing.
  const narrow = width < 500;
  const lines = [view.freezing, view.warm_soil].filter(({ value }) => value >= coldest && value <= warmest);
  return (
    <svg
      width={width}
      height={BAND_HEIGHT}
      role="img"
      aria-label={`Weather in ${year} compared with ${view.basis === "normals" ? "years generated from average weather" : `${band.years} years`}${killing?.first_in_autumn[1] ? `; killing frost by ${dayText(killing.first_in_autumn[1])} in half of years` : ""}`}
      className="block shrink-0 overflow-visible"
    >
      {ticks(scale, width).map((tick) => (
        <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={BAND_HEIGHT} stroke="var(--rule)" />
      ))}
      <path d={spread(low) ?? ""} fill="var(--pencil)" opacity={0.13} />
      {lines.map((quantity) => (
        <g key={quantity.value}>
          <line
            x1={0}
            x2={width}
            y1={y(quantity.value)}
            y2={y(quantity.value)}
            stroke="var(--pencil)"
            strokeDasharray="1 3"
          />
          <text
            x={narrow ? 2 : -5}
            y={y(quantity.value) + (narrow ? -2 : 4)}
            textAnchor={narrow ? "start" : "end"}
            fontSize={12.5}
            fill="var(--pencil)"
          >
            {plain(quantity)}
          </text>
        </g>
      ))}
      <path
        d={known(band.soil_middle.values)}
        fill="none"
        stroke="var(--straw)"
        strokeWidth={1.2}
        strokeDasharray="4 3"
      />
      <path d={fan(forecastLow) ?? ""} fill="var(--pencil)" opacity={0.35} />
      <path d={known(soil)} fill="none" stroke="var(--straw)" strokeWidth={2} />
      <path
        data-hourly={hours !== undefined}
        d={known(temperature, hours ? hourly : x)}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.1}
      />
      <path d={rain} stroke="var(--rain)" strokeWidth={Math.max(1, Math.min(3, width / fell.length - 0.6))} />
      <line x1={0} x2={width} y1={AIR + RAIN + 0.5} y2={AIR + RAIN + 0.5} stroke="var(--rule)" />
      {view.frost.length > 0 &&
        band.frost.map((share, index) =>
          share > 0.01 ? (
            <rect
              key={index}
              x={x(index)}
              y={frostTop}
              width={Math.max(0, Math.min(x(index + 1) + 0.4, width) - x(index))}
              height={4}
              fill="var(--cold)"
              opacity={0.12 + 0.75 * share}
            />
          ) : null,
        )}
      {view.frost.length > 0 &&
        [
          ...falls.map((index) => ({
            index,
            text: `last ${plain(killingIn(view))} by ${on(index)} in half ${ofSuchYears(view.basis ?? undefined)}`,
            end: false,
          })),
          ...rises.map((index) => ({ index, text: `in half by ${on(index)}`, end: true })),
        ]
          .filter(({ index }) => x(index) > 4 && x(index) < width - 4)
          // On a phone there is room for one of them.
          .slice(0, narrow ? 1 : undefined)
          .map(({ index, text, end }) => (
            <text
              key={text}
              x={x(index) + (end ? -4 : 4)}
              y={frostTop + 15}
              textAnchor={end ? "end" : "start"}
              fontSize={12.5}
              fill="var(--cold)"
            >
              {text}
            </text>
          ))}
      {now >= 0 && now <= width && (
        <line x1={now} x2={now} y1={0} y2={BAND_HEIGHT} stroke="var(--ink)" strokeWidth={1.5} />
      )}
    </svg>
  );
}

/** The threshold that the frost bar is drawn for: the middle one of the three. */
function killingIn(view: Schemas["WeatherView"]): Schemas["Temperature"] {
  return view.frost[1]?.threshold ?? view.freezing;
}
