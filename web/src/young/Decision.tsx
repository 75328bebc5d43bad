import type { Schemas } from "../api/client";
import { Figure, type Explained } from "../kit/Figure";
import { dayText, plain, type Quantity, range, shareOf } from "../units/format";
import { standWays } from "../units/words";

interface Props {
  answer: Explained & { value: Schemas["StandDecision"] };
}

/** What a count says, what is advised, and what each way costs and gives. */
export function Decision({ answer }: Props) {
  const { value } = answer;
  const named = (way: Schemas["StandWay"]) =>
    value.set_out && way === "thicken" ? "Fill gaps" : standWays[way];
  return (
    <div className="space-y-3">
      <CountBar count={value.count} thin={value.thin} full={value.full} />
      <p className="text-2xl font-bold" data-advised={value.advised}>
        {named(value.advised)}
      </p>
      <p>{value.why}</p>
      <p className="text-sm text-pencil">
        Expected yield: about{" "}
        <Figure quantity={value.of_full_yield} explains={answer} label="Share of full yield" /> of a full
        stand.
      </p>
      <ul className="border-t-2 border-ink" aria-label="Options">
        {value.ways.map((way) => (
          <li
            key={way.way}
            data-way={way.way}
            data-barred={way.barred != null}
            className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-4 border-b border-rule py-2 leading-snug"
          >
            <span className={way.barred ? "text-pencil" : "font-semibold"}>
              {way.barred ? "✕ " : ""}
              {named(way.way)}
              {way.on && !way.barred && <span className="font-normal text-pencil"> {whenOf(way)}</span>}
            </span>
            <span className="text-right text-sm text-pencil">
              {!way.barred && way.way !== "wait" && (
                <>
                  {way.left ? `net ${plain(way.left)}` : `${plain(way.lost)} below a full stand`}
                  {way.cost && `, cost ${plain(way.cost)}`}
                </>
              )}
            </span>
            {way.barred ? (
              <span className="col-span-2 text-sm text-pencil">{way.barred}</span>
            ) : (
              way.way !== "wait" && (
                <span className="col-span-2 text-sm text-pencil">
                  {way.yields.map((one) => plain(one as Quantity)).join(" · ")}
                  {way.way !== "keep" && `, at ${plain(way.odds)} odds`}
                </span>
              )
            )}
          </li>
        ))}
      </ul>
      <p className="text-sm text-pencil">Expected dry matter by year on fair to good ground.</p>
    </div>
  );
}

function whenOf(way: Schemas["StandWayOut"]): string {
  const day = dayText(way.on ?? "", 0);
  return way.way === "wait" ? `on ${day}` : `from ${day} (same species)`;
}

interface BarProps {
  count: Schemas["CountAnswer"];
  thin?: Quantity;
  full?: Quantity;
}

/** The count as an interval on a line, with what is thin and what is full. */
export function CountBar({ count, thin, full }: BarProps) {
  const share = count.mean.unit === "%" || count.mean.unit === "1";
  const of = ({ value, unit }: Quantity) => (share ? shareOf({ value, unit }) : value);
  const interval = count.interval as [Quantity, Quantity] | null | undefined;
  const high = interval ? of(interval[1]) : of(count.mean);
  const most = share ? 1 : Math.max(high, full ? of(full) * 1.4 : 0, of(count.mean)) * 1.05 || 1;
  const at = (quantity: Quantity) => `${Math.min(100, (100 * of(quantity)) / most)}%`;
  return (
    <figure aria-label="Count result">
      <p>
        <span className="text-3xl font-bold" data-mean={count.mean.value.toFixed(2)}>
          {plain(count.mean)}
        </span>{" "}
        <span className="text-pencil">
          {count.places} sample {count.places === 1 ? "point" : "points"}
          {interval && <>; field average {range(interval[0], interval[1])}</>}
        </span>
      </p>
      <div className="relative mt-2 h-5 bg-sunk" aria-hidden>
        {interval && (
          <div
            className="absolute inset-y-0 bg-wash"
            style={{ left: at(interval[0]), right: `calc(100% - ${at(interval[1])})` }}
          />
        )}
        <div className="absolute inset-y-0 w-1 bg-growth" style={{ left: at(count.mean) }} />
        {thin && <div className="absolute inset-y-[-4px] w-0.5 bg-stop" style={{ left: at(thin) }} />}
        {full && <div className="absolute inset-y-[-4px] w-0.5 bg-ink" style={{ left: at(full) }} />}
      </div>
      {thin && full && (
        <figcaption className="text-sm text-pencil">
          thin below {plain(thin)}; full at {plain(full)}
        </figcaption>
      )}
    </figure>
  );
}
