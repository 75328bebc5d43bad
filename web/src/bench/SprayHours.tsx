import { useQuery } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../api/client";
import { Trouble } from "../kit/states";
import { useFarm } from "../shell/farm";
import { dayText, plain, shareOf, yearOf } from "../units/format";

interface Props {
  product: string;
  on: string;
}

type Hour = Schemas["SprayHour"];

/** Told one by one: the rest is drawn. */
const TOLD = [6, 9, 12, 15, 18, 21];

/** The hours of a day in which it may be sprayed, by the label and the forecast. */
export function SprayHours({ product, on }: Props) {
  const farm = useFarm();
  const told = useQuery({
    queryKey: ["farm", farm.id, "spray-hours", product, on],
    queryFn: () =>
      answered(
        api.GET("/api/farms/{farm}/spray-hours", {
          params: { path: { farm: farm.id }, query: { product, on } },
        }),
      ),
    placeholderData: (before) => before,
  });
  if (told.error) return <Trouble error={told.error} />;
  if (!told.data) return null;
  const { hours, best, from, most_wind, by_label } = told.data;
  const day = dayText(told.data.on, yearOf(farm.today));
  return (
    <section aria-label="Spray hours" data-from={from} className="space-y-1 pt-4">
      <h2>Spray hours, {day}</h2>
      {from === "nobody" ? (
        <p className="text-pencil">No hourly data: the forecast does not reach that day or has no wind.</p>
      ) : (
        <>
          <p data-best={best?.join("-") ?? "none"}>
            {best ? (
              <>
                <strong>{clock(best[0] ?? 0)}</strong> to <strong>{clock(best[1] ?? 0)}</strong>:{" "}
                {from === "measured" ? "conditions were suitable." : "suitable in 80% of forecasts."}
              </>
            ) : (
              <strong>
                {from === "measured"
                  ? "No suitable hours."
                  : told.data.on === farm.today
                    ? "No remaining hour is suitable in 80% of forecasts."
                    : "No hour is suitable in 80% of forecasts."}
              </strong>
            )}
          </p>
          <Bars hours={hours} />
          <Told hours={hours.filter(({ hour }) => TOLD.includes(hour))} />
          <p className="text-sm text-pencil">
            Suitable: some wind, up to {plain(most_wind)} {by_label ? "(label)" : "(label limit not entered)"}
            , temperature within the label, no rain for four hours (assumed; check the label for drying time).
            {from === "forecast" && " Hours are estimated from daily forecasts; wind at 2 m."} Conditions in
            the field come first.
          </p>
        </>
      )}
    </section>
  );
}

const clock = (hour: number) => `${hour}:00`;

/** How likely each hour is fit, from midnight to midnight. */
function Bars({ hours }: { hours: readonly Hour[] }) {
  return (
    <div aria-hidden className="pb-1">
      <div className="flex h-14 items-end gap-px border-b border-ink">
        {hours.map((hour) => (
          <div key={hour.hour} className="relative h-full flex-1 bg-sunk">
            <div
              className="absolute inset-x-0 bottom-0 bg-growth"
              style={{ height: `${100 * shareOf(hour.fit)}%` }}
            />
          </div>
        ))}
      </div>
      <p className="flex justify-between text-sm text-pencil">
        {[0, 6, 12, 18, 24].map((hour) => (
          <span key={hour} className="w-0 whitespace-nowrap first:text-left last:flex last:justify-end">
            {hour}
          </span>
        ))}
      </p>
    </div>
  );
}

/** What speaks most against an hour, in a word. */
function against(hour: Hour): string {
  const words = { windy: "windy", still: "still", warmth: "temperature", wet: "rain" } as const;
  const most = (Object.keys(words) as (keyof typeof words)[])
    .map((key) => [shareOf(hour[key]), words[key]] as const)
    .sort(([a], [b]) => b - a)[0];
  return most && most[0] >= 0.2 ? most[1] : "";
}

function Told({ hours }: { hours: readonly Hour[] }) {
  const [low, high] = [0, 2];
  return (
    <table className="w-full table-fixed text-center text-sm">
      <caption className="sr-only">Spray hours</caption>
      <thead>
        <tr className="text-pencil">
          <th scope="row" className="w-14 text-left font-normal">
            <span className="sr-only">Hour</span>
          </th>
          {hours.map(({ hour }) => (
            <th key={hour} scope="col" className="font-semibold text-ink">
              {hour}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        <Row name="Suitable, %" hours={hours} of={(hour) => String(Math.round(100 * shareOf(hour.fit)))} />
        <Row
          name={`Wind, ${unitOf(hours[0]?.wind[0])}`}
          hours={hours}
          of={({ wind }) => range(wind[low], wind[high])}
        />
        <Row
          name={`Air, ${unitOf(hours[0]?.air[0])}`}
          hours={hours}
          of={({ air }) => range(air[low], air[high])}
        />
        <Row name="Main limit" hours={hours} of={against} />
      </tbody>
    </table>
  );
}

type Amount = Schemas["Quantity"];

const unitOf = (amount: Amount | undefined): string =>
  amount ? plain({ ...amount, value: 1 }).replace(/^[\d.,\s]+/u, "") : "";

/** From low to high, or the one they are both. */
function range(low: Amount | undefined, high: Amount | undefined): string {
  if (!low || !high) return "";
  const [a, b] = [Math.round(low.value), Math.round(high.value)];
  return a === b ? String(a) : `${a}–${b}`;
}

function Row({ name, hours, of }: { name: string; hours: readonly Hour[]; of: (hour: Hour) => string }) {
  return (
    <tr className="border-t border-rule">
      <th scope="row" className="text-left font-normal text-pencil">
        {name}
      </th>
      {hours.map((hour) => (
        <td key={hour.hour} className="py-0.5">
          {of(hour)}
        </td>
      ))}
    </tr>
  );
}
