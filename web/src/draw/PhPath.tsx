import { scaleLinear, scaleUtc } from "d3-scale";
import type { Schemas } from "../api/client";
import { day, dayText } from "../units/format";
import { useWidth } from "./useWidth";
import { dateFormat } from "../units/intl";

interface Props {
  path: Schemas["PhPath"];
  /** The day of month 0. */
  from: string;
  today: string;
  floor: number | null;
  target?: number | null;
  tests: { on: string; ph: number }[];
  dressings: { on: string; text: string }[];
  sowOn?: string | null;
  height?: number;
}

const PAD = { left: 34, right: 12, top: 14, bottom: 20 };

function plusMonths(from: string, months: number): Date {
  const start = day(from);
  return new Date(Date.UTC(start.getUTCFullYear(), start.getUTCMonth() + months, start.getUTCDate()));
}

/** The year at its beginning, the month within it. */
function tickText(date: Date): string {
  if (date.getUTCMonth() === 0) return String(date.getUTCFullYear());
  return dateFormat("en-GB", { month: "short" }).format(date);
}

/** pH by month: tests are ink, the path between and beyond is pencil, the crop's floor a line. */
export function PhPathDrawing({
  path,
  from,
  today,
  floor,
  target,
  tests,
  dressings,
  sowOn,
  height = 190,
}: Props) {
  const [width, ref] = useWidth();
  const last = path.months.at(-1)?.month ?? 0;
  const firstTest = tests[0];
  const begin = firstTest && day(firstTest.on) < day(from) ? day(firstTest.on) : day(from);
  const x = scaleUtc([begin, plusMonths(from, last)], [PAD.left, Math.max(width - PAD.right, PAD.left + 1)]);
  const all = [
    ...path.months.map((month) => month.ph),
    ...tests.map((test) => test.ph),
    floor ?? 6,
    target ?? 6,
  ];
  const low = Math.floor((Math.min(...all) - 0.15) * 2) / 2;
  const high = Math.ceil((Math.max(...all) + 0.15) * 2) / 2;
  const y = scaleLinear([low, high], [height - PAD.bottom, PAD.top]);
  const line = path.months
    .map(
      ({ month, ph }, index) =>
        `${index ? "L" : "M"}${x(plusMonths(from, month)).toFixed(1)} ${y(ph).toFixed(1)}`,
    )
    .join("");
  const at = (months: number | null | undefined) => (months == null ? null : plusMonths(from, months));
  const fall = at(path.falls_below);
  const iso = (date: Date) => date.toISOString().slice(0, 10);
  const says = [
    `Soil pH from ${tests.at(-1)?.ph ?? path.months[0]?.ph}`,
    `highest ${path.peak.ph.toFixed(1)} after ${path.peak.month} months`,
    fall
      ? `below ${floor} from ${dayText(iso(fall), 0)}`
      : `stays above ${floor} for ${Math.round(last / 12)} years`,
  ].join(", ");
  return (
    <div ref={ref}>
      {width > 0 && (
        <svg width={width} height={height} role="img" aria-label={says} className="block">
          {y.ticks(4).map((ph) => (
            <g key={ph}>
              <line x1={PAD.left} x2={width - PAD.right} y1={y(ph)} y2={y(ph)} stroke="var(--rule)" />
              <text x={PAD.left - 6} y={y(ph) + 4} textAnchor="end" fontSize={13} fill="var(--pencil)">
                {ph.toFixed(1)}
              </text>
            </g>
          ))}
          {x.ticks(Math.max(2, Math.floor(width / 110))).map((date) => (
            <text
              key={+date}
              x={x(date)}
              y={height - 4}
              textAnchor="middle"
              fontSize={13}
              fill="var(--pencil)"
            >
              {tickText(date)}
            </text>
          ))}
          {floor !== null && (
            <g>
              <line
                x1={PAD.left}
                x2={width - PAD.right}
                y1={y(floor)}
                y2={y(floor)}
                stroke="var(--stop)"
                strokeWidth={1.5}
              />
              <text x={width - PAD.right} y={y(floor) + 15} textAnchor="end" fontSize={13} fill="var(--stop)">
                minimum {floor}
              </text>
            </g>
          )}
          {target != null && (
            <text x={PAD.left + 4} y={y(target) - 4} fontSize={13} fill="var(--pencil)">
              aim {target}
            </text>
          )}
          {target != null && (
            <line
              x1={PAD.left}
              x2={width - PAD.right}
              y1={y(target)}
              y2={y(target)}
              stroke="var(--pencil)"
              strokeDasharray="2 4"
            />
          )}
          <line
            x1={x(day(today))}
            x2={x(day(today))}
            y1={PAD.top - 8}
            y2={height - PAD.bottom}
            stroke="var(--ink)"
            strokeWidth={1.5}
          />
          {sowOn && x(day(sowOn)) < width - PAD.right && x(day(sowOn)) > PAD.left + 6 && (
            <path
              d={`M${x(day(sowOn)) - 5} ${PAD.top - 8}h10l-5 8z`}
              fill="var(--paper)"
              stroke="var(--pencil)"
              strokeWidth={1.5}
            />
          )}
          <path d={line} fill="none" stroke="var(--pencil)" strokeWidth={2} strokeDasharray="5 3" />
          {dressings.map((one) => (
            <path
              key={one.on + one.text}
              d={`M${x(day(one.on)) - 6} ${height - PAD.bottom}l6 -9l6 9z`}
              fill="var(--ink)"
              stroke="var(--ink)"
            >
              <title>{`${one.text}, ${dayText(one.on, 0)}`}</title>
            </path>
          ))}
          {tests.map((test) => (
            <g key={test.on}>
              <circle cx={x(day(test.on))} cy={y(test.ph)} r={5} fill="var(--ink)" />
              <text
                x={x(day(test.on)) + 8}
                y={y(test.ph) + 15}
                fontSize={13}
                fontWeight={600}
                fill="var(--ink)"
              >
                {test.ph.toFixed(1)}
              </text>
            </g>
          ))}
          {fall && (
            <text
              x={Math.min(x(fall), width - 150)}
              y={PAD.top + 2}
              fontSize={13}
              fontWeight={600}
              fill="var(--ink)"
            >
              lime before {dayText(iso(fall), 0)}
            </text>
          )}
        </svg>
      )}
    </div>
  );
}
