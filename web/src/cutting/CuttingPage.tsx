import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useDeferredValue, useState } from "react";
import { Refused, type Schemas } from "../api/client";
import { useCutting, useSeason } from "../api/queries";
import { Collapse } from "../kit/Collapse";
import { Page } from "../kit/Page";
import { Pick } from "../kit/Pick";
import { QuantityField } from "../kit/Quantity";
import { Empty, NotYet, Trouble } from "../kit/states";
import type { CuttingSearch } from "../pages";
import { useFarm } from "../shell/farm";
import { dayText, yearOf, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { CutDays } from "./CutDays";
import { CutTable } from "./CutTable";
import { after, movedTo } from "./ways";
import { WayTable } from "./WayTable";

interface Stand {
  id: string;
  field: Schemas["FieldView"];
  cover: string;
}

/** When to cut: the ways that growers go by, and days of one's own, from what stands there today. */
export function CuttingPage() {
  const farm = useFarm();
  const search: CuttingSearch = useSearch({ strict: false });
  const season = useSeason(farm.id);
  if (season.data === undefined) return <NotYet what="Loading stands" of={[season]} />;
  const sown = season.data.strips.flatMap((strip) =>
    strip.stands
      .filter((stand) => stand.plan.sown && stand.goal !== "wildlife")
      .map((stand) => ({ id: stand.id, field: strip.field, cover: stand.cover, on: stand.plan.sown_on })),
  );
  // The oldest first: of seedlings little can be told.
  sown.sort((a, b) => a.on.localeCompare(b.on));
  const chosen = sown.find((one) => one.id === search.stand) ?? sown[0];
  if (!chosen)
    return (
      <Page title="Cutting">
        <Empty>Nothing is sown yet. Once a sowing is recorded, cutting dates are compared here.</Empty>
      </Page>
    );
  return <OfStand key={chosen.id} stands={sown} chosen={chosen} />;
}

interface Prices {
  price: Quantity | null;
  premium: Quantity | null;
  cost: Quantity | null;
}

function OfStand({ stands, chosen }: { stands: readonly Stand[]; chosen: Stand }) {
  const farm = useFarm();
  const units = useUnits();
  const [drawn, setDrawn] = useState<string | null>(null);
  const [own, setOwn] = useState<readonly string[]>([]);
  const [prices, setPrices] = useState<Prices>({ price: null, premium: null, cost: null });
  const asked = useDeferredValue({ drawn, own, prices });
  const request = {
    own: [...asked.own],
    drawn: asked.drawn,
    price: asked.prices.price as Schemas["MoneyPerMass"] | null,
    premium: asked.prices.premium as Schemas["MoneyPerMass"] | null,
    cut_cost: asked.prices.cost as Schemas["MoneyPerArea"] | null,
  };
  const answer = useCutting(farm.id, chosen.id, units.system, request);
  const refused = answer.error instanceof Refused ? answer.error : undefined;
  // What was told last stays while something that can't be is being typed.
  const [last, setLast] = useState<Schemas["CuttingView"]>();
  if (answer.data && answer.data !== last) setLast(answer.data);
  const view = answer.data ?? last;
  const tools = (
    <>
      <StandPick stands={stands} chosen={chosen} />
      <Link
        to="/farms/$farm/fields/$field"
        params={{ farm: farm.id, field: chosen.field.id }}
        className="line-button"
      >
        Open field
      </Link>
    </>
  );
  const atPrices = ["/price", "/premium", "/cut_cost"].some((pointer) => refused?.at(pointer));
  const title = `${chosen.field.name}: when to cut ${chosen.cover}`;
  if (view === undefined)
    return (
      <Page title={title} tools={tools}>
        {refused ? <Trouble error={refused} /> : <NotYet what="Growing each way on" of={[answer]} />}
      </Page>
    );
  const told = view.told;
  if (!told)
    return (
      <Page title={title} tools={tools}>
        <Empty>{view.untold}</Empty>
      </Page>
    );
  const { value } = told;
  const year = yearOf(farm.today);
  const shown = value.ways.find((way) => way.key === value.drawn.key) ?? value.ways[0];
  if (!shown) return null;
  const move = (at: number, to: string) =>
    setOwn((days) => movedTo(days, at, to, farm.today, value.year_ends));
  const take = () => {
    const days = shown.cuts.map((cut) => cut.on);
    setOwn(
      days.map((day, at) => (at > 0 && day <= (days[at - 1] ?? "") ? after(days[at - 1] ?? day, 1) : day)),
    );
    setDrawn("own");
  };
  const drop = () => {
    setOwn([]);
    setDrawn(null);
  };
  return (
    <Page title={title} tools={tools}>
      <CutDays told={value} way={shown} own={drawn === "own" ? own : []} today={farm.today} onMove={move} />
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1 pt-4 pb-2">
        {drawn === "own" ? (
          <>
            <span className="text-sm text-pencil">
              Drag a cut, or move it with the arrow keys; every figure follows.
            </span>
            <button
              type="button"
              className="line-button"
              disabled={own.length >= 16}
              onClick={() =>
                setOwn((days) => {
                  const last = days.at(-1) ?? farm.today;
                  const next = after(last, 35);
                  return next < value.year_ends ? [...days, next] : days;
                })
              }
            >
              Add a cut
            </button>
            <button
              type="button"
              className="line-button"
              disabled={own.length < 2}
              onClick={() => setOwn((days) => days.slice(0, -1))}
            >
              Remove the last cut
            </button>
            <button type="button" className="line-button" onClick={drop}>
              Discard your dates
            </button>
          </>
        ) : (
          <button type="button" className="line-button" disabled={shown.cuts.length === 0} onClick={take}>
            Try your own dates
          </button>
        )}
      </div>
      {refused && !atPrices && <Trouble error={refused} />}
      <div className="grid gap-x-10 gap-y-6 xl:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
        <div className="min-w-0">
          <WayTable told={told} drawn={shown.key} onDraw={setDrawn} />
          <ul className="pt-2 text-sm">
            {value.weeks.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
          <Collapse title="Prices" className="pt-2">
            <div className="grid gap-x-5 sm:grid-cols-3">
              <QuantityField
                label="Hay price at RFQ 150"
                bare={units.tonPrice}
                value={prices.price}
                onChange={(price) => setPrices((old) => ({ ...old, price }))}
                error={refused?.at("/price")}
              />
              <QuantityField
                label="Premium per 10 RFQ points"
                bare={units.tonPrice}
                value={prices.premium}
                onChange={(premium) => setPrices((old) => ({ ...old, premium }))}
                error={refused?.at("/premium")}
              />
              <QuantityField
                label="Cost of one cut"
                bare={units.areaPrice}
                value={prices.cost}
                onChange={(cost) => setPrices((old) => ({ ...old, cost }))}
                error={refused?.at("/cut_cost")}
              />
            </div>
          </Collapse>
        </div>
        <div className="min-w-0">
          <CutTable way={shown} year={year} />
          <p className="pt-2 text-sm text-pencil">
            {value.rest_from && value.frost && (
              <>
                Usual killing frost {dayText(value.frost, year)}: a last cut by{" "}
                {dayText(value.rest_from, year)} leaves five weeks of rest.{" "}
              </>
            )}
            Dry matter above the stubble, from today’s stand in each of {value.years} weather years; ranges
            are 8 in 10 of them.{" "}
            {shown.spring && (
              <>Reserves are read at the usual frost, spring growth on {dayText(value.followed_to, year)}. </>
            )}
            {value.assumed.join(" ")}
          </p>
        </div>
      </div>
    </Page>
  );
}

/** Another stand's page. */
function StandPick({ stands, chosen }: { stands: readonly Stand[]; chosen: Stand }) {
  const farm = useFarm();
  const navigate = useNavigate();
  if (stands.length < 2) return null;
  return (
    <Pick
      label="Stand"
      hideLabel
      value={chosen.id}
      onChange={(stand) =>
        stand && void navigate({ to: "/farms/$farm/cutting", params: { farm: farm.id }, search: { stand } })
      }
      options={stands.map((one) => ({ value: one.id, text: `${one.field.name}, ${one.cover}` }))}
    />
  );
}
