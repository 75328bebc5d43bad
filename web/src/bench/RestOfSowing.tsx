import { useQuery } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../api/client";
import { useSignal } from "../api/signal";
import { useFarm } from "../shell/farm";
import { turned } from "../units/base";
import { dayText, plain, shareOf, weekdayOf, yearOf, type Quantity } from "../units/format";

interface Props {
  stand: string;
  hours: Quantity;
}

/** When the rest of a sowing is done: fit days by the forecast and the years, and the odds that are left then. */
export function RestOfSowing({ stand, hours }: Props) {
  const farm = useFarm();
  const signal = useSignal();
  const left = Math.min(500, Math.round(turned(hours, "h").value * 10) / 10);
  const told = useQuery({
    queryKey: ["farm", farm.id, "rest", stand, left],
    queryFn: () =>
      answered(
        api.GET("/api/farms/{farm}/stands/{stand}/rest", {
          params: { path: { farm: farm.id, stand }, query: { hours: left } },
        }),
      ),
    placeholderData: (before) => before,
    enabled: signal,
  });
  const rest = told.data?.rest;
  const year = yearOf(farm.today);
  if (!rest)
    return (
      <p data-hours-left={left}>
        About {plain(hours)} of work left.{" "}
        {told.isSuccess && <span className="text-pencil">A finish date needs ten years of weather.</span>}
      </p>
    );
  const [, half, most] = rest.done_by;
  return (
    <section aria-label="Remaining sowing" className="space-y-1 border-t border-rule pt-2">
      <p data-hours-left={left} data-half={half ?? "never"}>
        About {plain(hours)} left, {rest.fit_days === 1 ? "1 suitable day" : `${rest.fit_days} suitable days`}
        :{" "}
        {half ? (
          <>
            50% chance of finishing by <strong>{dayText(half, year)}</strong>
            {most && most !== half && <>, 90% by {dayText(most, year)}</>}
            {!most && <>, but not 90% within 60 days</>}.
          </>
        ) : (
          <strong>unlikely to finish within 60 days.</strong>
        )}
        {rest.odds_today && rest.odds_then && half !== farm.today && (
          <>
            {" "}
            Odds for seed sown then: {plain(rest.odds_then)} (today {plain(rest.odds_today)}).
          </>
        )}
      </p>
      <Days days={rest.days} />
    </section>
  );
}

/** The next days: how likely each is fit, how likely it rains. */
function Days({ days }: { days: readonly Schemas["DayAhead"][] }) {
  return (
    <table className="w-full table-fixed text-center text-sm">
      <caption className="sr-only">The next days</caption>
      <thead>
        <tr className="text-pencil">
          <th scope="row" className="w-14 text-left font-normal">
            <span className="sr-only">Day</span>
          </th>
          {days.map((day) => (
            <th key={day.on} scope="col" className="font-semibold text-ink">
              {weekdayOf(day.on)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        <Row name="Suitable, %" days={days} of={(day) => day.fit} good />
        <Row name="Rain, %" days={days} of={(day) => day.rain} />
        <Row name="Done, %" days={days} of={(day) => day.done} good />
      </tbody>
    </table>
  );
}

interface RowProps {
  name: string;
  days: readonly Schemas["DayAhead"][];
  of: (day: Schemas["DayAhead"]) => Quantity;
  /** More of it is better. */
  good?: boolean;
}

function Row({ name, days, of, good = false }: RowProps) {
  return (
    <tr className="border-t border-rule">
      <th scope="row" className="text-left font-normal text-pencil">
        {name}
      </th>
      {days.map((day) => {
        const share = shareOf(of(day));
        return (
          <td key={day.on} className="relative h-8 px-0">
            <span
              aria-hidden
              className={`absolute inset-x-1 bottom-0 ${good ? "bg-wash" : "bg-sunk"}`}
              style={{ height: `${100 * share}%` }}
            />
            <span className="relative">{Math.round(100 * share)}</span>
          </td>
        );
      })}
    </tr>
  );
}
