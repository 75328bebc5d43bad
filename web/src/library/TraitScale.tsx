import type { Schemas } from "../api/client";
import { plain } from "../units/format";

export type Trait = Schemas["Trait"];

interface Props {
  /** The trait of each crop that is shown, the first in ink, the second in outline. */
  traits: readonly (Trait | undefined)[];
  names: readonly string[];
}

const WIDTH = 300;

/** "10 to 15 lb/ac", or "50 °F". */
export function figureText({ low, high }: Trait): string {
  // A number without a unit, pH or days, has as many decimals as it needs.
  if (low.unit === "1")
    return [low, ...(high ? [high] : [])].map(({ value }) => Number(value.toFixed(2))).join(" to ");
  if (!high) return plain(low);
  const [from, to] = [plain(low), plain(high)];
  const unit = to.slice(/^[\d.,−]*/.exec(to)?.[0].length ?? 0);
  return `${from.endsWith(unit) ? from.slice(0, from.length - unit.length) : from} to ${to}`;
}

/** One figure on the scale that all crops share; two crops one above the other. */
export function TraitScale({ traits, names }: Props) {
  const first = traits.find((one) => one !== undefined);
  if (!first) return null;
  const says = traits.map((one, at) => `${names[at]}: ${one ? figureText(one) : "none"}`).join("; ");
  const foot = 8 + traits.length * 12;
  const x = (share: number) => 6 + share * (WIDTH - 12);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${foot + 17}`}
      className="block w-full max-w-90"
      role="img"
      aria-label={`${first.name}. ${says}`}
    >
      <path d={`M1 ${foot}H${WIDTH - 1}`} stroke="var(--pencil)" strokeWidth={1} />
      {[0, 0.25, 0.5, 0.75, 1].map((at) => (
        <path key={at} d={`M${x(at)} ${foot - 3}v6`} stroke="var(--pencil)" strokeWidth={1} />
      ))}
      <text x={2} y={foot + 16} fontSize={13} fill="var(--pencil)">
        {first.from.value === 0 && !first.from.unit.startsWith("deg") ? 0 : plain(first.from)}
      </text>
      <text x={WIDTH - 2} y={foot + 16} textAnchor="end" fontSize={13} fill="var(--pencil)">
        {plain(first.to)}
      </text>
      {traits.map((one, at) => {
        if (!one) return null;
        const y = 6 + at * 12;
        const mark = {
          fill: at === 0 ? "var(--ink)" : "var(--paper)",
          stroke: "var(--ink)",
          strokeWidth: 1.6,
        };
        const wide = x(one.ends) - x(one.begins);
        return wide > 6 ? (
          <rect key={at} x={x(one.begins)} y={y - 4} width={wide} height={8} {...mark} />
        ) : (
          <circle key={at} cx={x(one.begins)} cy={y} r={4.4} {...mark} />
        );
      })}
    </svg>
  );
}
