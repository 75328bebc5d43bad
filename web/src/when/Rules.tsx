import { area } from "d3-shape";
import type { Schemas } from "../api/client";
import { ticks, type TimeScale } from "../draw/Axis";
import { percent, valueOn } from "../draw/odds";
import { Tip } from "../kit/Tip";
import { day, plain } from "../units/format";

const DAY = 86_400_000;
const ROW = 30;

interface Props {
  answer: Schemas["WindowAnswer"];
  scale: TimeScale;
  width: number;
  on: string;
  today: string;
}

/** How a count of days reads with its name. */
const counted: Record<string, (count: number) => string> = {
  mornings: (count) => (count === 1 ? "1 morning" : `${count} mornings`),
  days: (count) => (count === 1 ? "1 day" : `${count} days`),
  "days before": (count) => `${count} days before`,
  "days after": (count) => `${count} days after`,
  "within days": (count) => `within ${count} days`,
  "from day": (count) => `from day ${count}`,
  "days shorter for": (count) => `shortening for ${count} days`,
  "for days": (count) => `${count} days`,
  "nights of frost": (count) => `${count} nights`,
  longest: (count) => `no more than ${count} dry days`,
};

/** Room is short: "at least" is a sign here, and a word wherever there is a sentence. */
const signs = (name: string) =>
  name.replace("at least", "≥").replace("at most", "≤").replace("colder than", "<");

/** "≥ 50 °F, 3 mornings": a rule's numbers in a few words. */
export function numbersOf(rule: Schemas["RuleOdds"]): string {
  return rule.measured
    .map(({ name, value }) =>
      value.unit === "1"
        ? (counted[name]?.(value.value) ?? `${name} ${value.value}`)
        : `${signs(name)} ${plain(value)}`,
    )
    .join(", ");
}

/** The conditions one under another, each with the share of years in which it held. */
export function Rules({ answer, scale, width, on, today }: Props) {
  const { curve } = answer;
  const start = day(curve.from).getTime();
  const x = (index: number) => scale(new Date(start + index * DAY));
  const wash = area<number>()
    .x((_, index) => x(index))
    .y0(ROW - 1)
    .y1((value) => ROW - 1 - value * (ROW - 6));
  const here = scale(day(on));
  const now = scale(day(today));
  return (
    <ul aria-label="Conditions">
      {curve.rules.map((rule) => {
        const holds = valueOn(curve.from, rule.holds, on);
        return (
          <li key={rule.key} data-rule={rule.key} className="border-b border-rule sm:flex">
            <div className="w-50 shrink-0 pr-2 leading-[1.1] max-sm:w-full">
              <p className="flex justify-between gap-2 text-sm leading-[1.15] font-semibold">
                <Tip words={rule.name}>
                  <span className="truncate">{rule.name}</span>
                </Tip>
                <span className="whitespace-nowrap">{holds === undefined ? "–" : percent(holds)}</span>
              </p>
              <Tip words={numbersOf(rule)}>
                <p className="truncate text-[0.8125rem] leading-[1.15] text-pencil">{numbersOf(rule)}</p>
              </Tip>
            </div>
            <svg width={width} height={ROW} aria-hidden className="block overflow-hidden">
              {ticks(scale, width).map((tick) => (
                <line key={tick.x} x1={tick.x} x2={tick.x} y1={0} y2={ROW} stroke="var(--rule)" />
              ))}
              <path d={wash(rule.holds) ?? ""} fill="var(--pencil)" opacity={0.28} />
              <line x1={now} x2={now} y1={0} y2={ROW} stroke="var(--ink)" strokeWidth={1.5} />
              <line x1={here} x2={here} y1={0} y2={ROW} stroke="var(--ink)" strokeWidth={2} />
            </svg>
          </li>
        );
      })}
    </ul>
  );
}
