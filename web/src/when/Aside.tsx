import { Slider } from "radix-ui";
import type { Schemas } from "../api/client";
import { useCrops } from "../api/queries";
import { percent } from "../draw/odds";
import { useFarm } from "../shell/farm";
import { Figure } from "../kit/Figure";
import { QuantityField } from "../kit/Quantity";
import { dayText, plain, shareOf, shown, yearOf, type Quantity } from "../units/format";

interface Props {
  view: Schemas["WindowsView"];
  answer: Schemas["Answer_WindowAnswer"];
  level: number;
  /** It moves; and it was let go of. */
  onLevel: (level: number) => void;
  onLevelSet: (level: number) => void;
  stake: Quantity | null;
  onStake: (stake: Quantity | null) => void;
  on: string;
}

/** Opens, best, closes; what waiting costs; how far it gets before frost. */
export function Aside({ view, answer, level, onLevel, onLevelSet, stake, onStake, on }: Props) {
  const { edges, asked, in_a_week, cost_of_a_week } = answer.value;
  const year = yearOf(useFarm().today);
  return (
    <aside aria-label="Results" className="space-y-3">
      <section>
        <h2>Sowing window</h2>
        <p className="text-sm font-semibold">{`Open at ${percent(level)} of years or more`}</p>
        <Slider.Root
          value={[Math.round(level * 100)]}
          min={10}
          max={90}
          step={5}
          onValueChange={([next]) => next !== undefined && onLevel(next / 100)}
          onValueCommit={([set]) => set !== undefined && onLevelSet(set / 100)}
          className="relative flex h-9 touch-none items-center select-none max-sm:h-11"
        >
          <Slider.Track className="relative h-px w-full bg-ink" />
          <Slider.Thumb
            aria-label={`Open at ${percent(level)} of years or more`}
            className="block h-7 w-3 cursor-ew-resize border-2 border-ink bg-paper"
          />
        </Slider.Root>
        <table className="w-full text-sm">
          <tbody>
            <EdgeRow word="Opens" edge={edges.opens} year={year} beyond="limit before" />
            <EdgeRow word="Best" edge={edges.best} year={year} />
            <EdgeRow word="Closes" edge={edges.closes} year={year} beyond="limit after" />
          </tbody>
        </table>
        {!edges.opens && <p className="text-sm text-pencil">Never reaches {percent(level)}.</p>}
      </section>
      <section>
        <h2>One week later</h2>
        {asked != null && in_a_week != null && (
          <p>
            {percent(asked)} becomes <strong>{percent(in_a_week)}</strong>
            {stake && cost_of_a_week && (
              <>
                : {cost_of_a_week.value >= 0 ? "average cost " : "average gain "}
                <Figure
                  quantity={{ value: Math.abs(cost_of_a_week.value), unit: "money" }}
                  explains={answer}
                  label="Cost of a week"
                />
              </>
            )}
          </p>
        )}
        <QuantityField
          label="Cost of a failed sowing"
          bare="money"
          value={stake}
          onChange={onStake}
          hint="Seed, fuel and time."
        />
      </section>
      {view.growing_time.length > 0 && <GrowingTime times={view.growing_time} on={on} year={year} />}
    </aside>
  );
}

/** Why one sows this way and why not; what is taken for granted of the field. */
export function Notes({ view, answer }: { view: Schemas["WindowsView"]; answer: Schemas["WindowAnswer"] }) {
  return (
    <div className="grid gap-x-8 gap-y-2 pt-4 text-sm sm:grid-cols-2">
      <section>
        <h2>For and against</h2>
        <p>{answer.for_it}</p>
        <p className="pt-1 text-pencil">{answer.against_it}</p>
        {answer.not_for.length > 0 && (
          <p className="pt-1">Not a usual sowing window for {answer.not_for.join(", ")}.</p>
        )}
      </section>
      {view.assumed.length > 0 && (
        <section className="text-pencil">
          <h2 className="text-ink">Assumptions</h2>
          <ul className="space-y-1">
            {view.assumed.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function EdgeRow({
  word,
  edge,
  year,
  beyond,
}: {
  word: string;
  edge: Schemas["Edge"] | null | undefined;
  year: number;
  /** How the rule that stands in the way beyond it is named. */
  beyond?: string;
}) {
  if (!edge) return null;
  return (
    <tr className="border-b border-rule align-top" data-edge={word.toLowerCase()}>
      <td className="py-1 pr-2 text-pencil">{word}</td>
      <td className="py-1 pr-2 font-semibold whitespace-nowrap">{dayText(edge.on, year)}</td>
      <td className="py-1 text-right">
        {percent(edge.odds)}
        {beyond && edge.limited_by_name && (
          <span className="block text-[0.8125rem] text-pencil">
            {beyond}: {edge.limited_by_name}
          </span>
        )}
      </td>
    </tr>
  );
}

function GrowingTime({ times, on, year }: { times: Schemas["CropTime"][]; on: string; year: number }) {
  const crops = useCrops();
  const name = (id: string) => crops.data?.find((crop) => crop.id === id)?.name ?? id;
  return (
    <section className="text-sm" aria-label="Growing season left">
      <h2 className="text-[1.0625rem]">Until killing frost</h2>
      {times.map(({ crop, left }) => (
        <div key={crop} className="pt-1">
          <p>
            {times.length > 1 && <strong>{name(crop)}: </strong>}
            {daysOf(left, 1)} days from {dayText(on, year)}{" "}
            <span className="text-pencil">
              ({daysOf(left, 0)} to {daysOf(left, 2)})
            </span>
            {left.frost[1] && (
              <>
                , <Figure quantity={left.degree_days[1]} />
              </>
            )}
          </p>
          <DryMatter spread={left.dry_matter} />
          <ul>
            {left.stages.map((stage) => (
              <li key={stage.name} className="flex justify-between border-b border-rule">
                <span>{stage.name}</span>
                <span className="font-semibold">{percent(shareOf(stage.share))}</span>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}

/** Days to the frost; in a year that knows none, "more than" the days looked ahead. */
function daysOf(left: Schemas["TimeLeft"], which: 0 | 1 | 2): string {
  const days = String(Math.round(left.days[which] ?? 0));
  return left.frost[which] ? days : `over ${days}`;
}

/** What it grows by then in the middling year, and in one of ten and nine of ten. */
function DryMatter({ spread: [low, middle, high] }: { spread: Quantity[] }) {
  if (!low || !middle || !high) return null;
  // Little is told in pounds where much is told in tons.
  const brief = (one: Quantity) => (one.unit === middle.unit ? shown(one).number : plain(one));
  return (
    <p data-dry-matter>
      <Figure quantity={middle} className="font-semibold" /> dry matter{" "}
      <span className="text-pencil">
        ({brief(low)} to {brief(high)}), if water and nitrogen are not limiting
      </span>
    </p>
  );
}
