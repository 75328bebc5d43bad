import { useId, useMemo } from "react";
import type { Schemas } from "../api/client";
import { useFarm } from "../shell/farm";
import { monthText, plain } from "../units/format";
import type { Trait } from "./TraitScale";

const [WIDTH, HEIGHT, LEFT, FOOT] = [520, 210, 84, 40];

interface Props {
  view: Schemas["ClimateView"];
  traits: readonly Trait[];
}

/** The farm's year in warmth and length of day, and where in it the crop grows. */
export function WarmYear({ view, traits }: Props) {
  const farm = useFarm();
  const above = useId();
  const climate = view.climate;
  const of = (key: string) => traits.find((one) => one.key === key)?.low;
  const [base, sow] = [of("base"), of("soil-temperature")];
  const months = useMemo(() => {
    const order = Array.from({ length: 12 }, (_, at) => (farm.year_begins - 1 + at) % 12);
    return order.map((month) => ({
      month,
      mean: climate?.months[month]?.value ?? 0,
      hours: view.daylight[month] ?? 0,
    }));
  }, [climate, view.daylight, farm.year_begins]);
  if (!climate || !base)
    return <p className="text-sm text-pencil">Add weather under Set-up to see the growing season here.</p>;
  const values = [...months.map(({ mean }) => mean), base.value];
  const [low, high] = [Math.min(...values) - 4, Math.max(...values) + 4];
  const x = (at: number) => LEFT + ((at + 0.5) / 12) * (WIDTH - LEFT);
  const y = (value: number) => 8 + ((high - value) / (high - low)) * (HEIGHT - FOOT - 16);
  const line = months.map(({ mean }, at) => `${at ? "L" : "M"}${x(at)} ${y(mean)}`).join("");
  const under = `${line}L${x(11)} ${HEIGHT}L${x(0)} ${HEIGHT}Z`;
  const says = months.map(({ month, mean }) => `${monthText(month + 1)} ${Math.round(mean)}`).join(", ");
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="block w-full max-w-150"
      role="img"
      aria-label={`Mean temperature here by month, ${base.unit === "degF" ? "°F" : "°C"}: ${says}. Growth starts at ${plain(base)}.`}
    >
      <clipPath id={above}>
        <rect x={LEFT} y={0} width={WIDTH - LEFT} height={y(base.value)} />
      </clipPath>
      <path d={under} fill="var(--wash)" clipPath={`url(#${above})`} />
      <path d={line} fill="none" stroke="var(--ink)" strokeWidth={2} />
      <Level value={base} text="grows" at={y(base.value)} />
      {sow && sow.value > base.value && sow.value < high && (
        <Level value={sow} text="sown" at={y(sow.value)} dashed />
      )}
      {months.map(({ month, hours }, at) => (
        <g key={month}>
          <text x={x(at)} y={HEIGHT - 22} textAnchor="middle" fontSize={13} fill="var(--pencil)">
            {monthText(month + 1).slice(0, 3)}
          </text>
          <rect
            x={x(at) - 15}
            y={HEIGHT - 14}
            width={30}
            height={10}
            fill="var(--sunk)"
            stroke="var(--rule)"
          />
          <rect
            x={x(at) - 15}
            y={HEIGHT - 14}
            width={(30 * hours) / 24}
            height={10}
            fill="var(--straw)"
            opacity={0.7}
          >
            <title>{`${hours} hours of daylight`}</title>
          </rect>
        </g>
      ))}
      <text x={0} y={HEIGHT - 5} fontSize={13} fill="var(--pencil)">
        day
      </text>
    </svg>
  );
}

function Level({
  value,
  text,
  at,
  dashed = false,
}: {
  value: Trait["low"];
  text: string;
  at: number;
  dashed?: boolean;
}) {
  return (
    <>
      <path
        d={`M${LEFT} ${at}H${WIDTH}`}
        stroke="var(--growth)"
        strokeWidth={1.3}
        {...(dashed ? { strokeDasharray: "5 4" } : {})}
      />
      <text x={0} y={at + 5} fontSize={13} fill="var(--ink)">
        {text} {plain(value)}
      </text>
    </>
  );
}
