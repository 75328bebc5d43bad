import type { Schemas } from "../api/client";
import { plain, range } from "../units/format";

type Page = Schemas["CropPage"];

const [WIDTH, HEIGHT, FOOT] = [330, 150, 22];

/** What each year of a stand brings: the sure part in full wash, the hoped for in lighter. */
export function Years({ page, most }: { page: Page; most: number }) {
  const seasons = page.seasons;
  const step = (WIDTH - 8) / Math.max(6, seasons.length);
  const y = (value: number) => HEIGHT - FOOT - (value / most) * (HEIGHT - FOOT - 18);
  const best = [...seasons].sort((a, b) => b.high.value - a.high.value)[0];
  const says = seasons
    .map(({ low, high }, at) => `year ${at + 1}: ${plain(low)} to ${plain(high)}`)
    .join("; ");
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="block w-full max-w-90"
      role="img"
      aria-label={`Dry matter of ${page.name} by year. ${says}`}
    >
      <path d={`M0 ${HEIGHT - FOOT}H${WIDTH}`} stroke="var(--ink)" strokeWidth={1.5} />
      {seasons.map(({ low, high }, at) => (
        <g key={at}>
          <rect
            x={6 + at * step}
            y={y(high.value)}
            width={step - 8}
            height={HEIGHT - FOOT - y(high.value)}
            fill="var(--wash)"
            opacity={0.55}
          />
          <rect
            x={6 + at * step}
            y={y(low.value)}
            width={step - 8}
            height={HEIGHT - FOOT - y(low.value)}
            fill="var(--growth)"
            opacity={0.55}
          />
          <text
            x={6 + at * step + (step - 8) / 2}
            y={HEIGHT - 6}
            textAnchor="middle"
            fontSize={14}
            fill="var(--pencil)"
          >
            {at + 1}
          </text>
        </g>
      ))}
      {best && (
        <text x={6} y={Math.max(14, y(best.high.value) - 5)} fontSize={14} fill="var(--ink)">
          {range(best.low, best.high)}
        </text>
      )}
    </svg>
  );
}
