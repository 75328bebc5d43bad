import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useReckoning, useWorkedFields } from "../api/queries";
import { Cautions } from "../kit/Cautions";
import { Collapse } from "../kit/Collapse";
import { Figure } from "../kit/Figure";
import { Labelled } from "../kit/Labelled";
import { Page } from "../kit/Page";
import { Pick } from "../kit/Pick";
import { NotYet } from "../kit/states";
import type { ChooseSearch } from "../pages";
import { useFarm } from "../shell/farm";
import { dayText, range, yearOf } from "../units/format";
import { verdicts } from "../units/words";
import { useUnits } from "../units/useUnits";

const goals = ["hay", "silage", "grazing", "green feed", "biomass", "bedding", "wildlife", "cover"] as const;
type Goal = (typeof goals)[number];

/** Crops for a field and a goal, with what is for and against each. */
export function ChoosePage() {
  const farm = useFarm();
  const units = useUnits();
  const navigate = useNavigate();
  const fields = useWorkedFields(farm.id);
  const asked = useSearch({ strict: false }) as ChooseSearch;
  const goal = goals.find((one) => one === asked.goal) ?? "hay";
  const { field = "", years = 4 } = asked;
  const turn = (search: ChooseSearch) =>
    void navigate({
      to: "/farms/$farm/library/choose",
      params: { farm: farm.id },
      search: { field: field || undefined, goal, years, ...search },
      replace: true,
    });
  const query = { goal, years, ...(field ? { field } : {}) };
  const ranking = useReckoning("ranking", [farm.id, units.system, query], (signal) =>
    answered(api.GET("/api/farms/{farm}/ranking", { params: { path: { farm: farm.id }, query }, signal })),
  );
  const refused = ranking.error instanceof Refused ? ranking.error : undefined;
  const crops = refused ? undefined : ranking.data?.value.crops;
  const stands = crops?.filter((one) => one.verdict !== "unfit") ?? [];
  const falls = crops?.filter((one) => one.verdict === "unfit") ?? [];
  const most = Math.max(...(crops ?? []).map((one) => one.high.value), 0.1);
  return (
    <Page
      title="Choose a crop"
      about="Ranked by goal and site"
      aside={
        <form aria-label="Goal and site" onSubmit={(event) => event.preventDefault()}>
          <Pick<Goal>
            label="Goal"
            value={goal}
            options={goals.map((value) => ({ value, text: value }))}
            onChange={(next) => next && turn({ goal: next })}
          />
          <Pick
            label="Field"
            value={field}
            empty="whole farm"
            clears
            hint="Each crop is checked against the field’s soil, site and history."
            options={(fields.data ?? []).map((one) => ({ value: one.id, text: one.name }))}
            onChange={(next) => turn({ field: next || undefined })}
          />
          <Labelled label="Stand life, years" error={refused?.at("/years")}>
            {(ids) => (
              <input
                {...ids}
                type="number"
                min={1}
                max={40}
                className="entry max-sm:min-h-11"
                defaultValue={years}
                onChange={(event) => {
                  const wanted = Number(event.target.value);
                  if (Number.isInteger(wanted) && wanted > 0) turn({ years: wanted });
                }}
              />
            )}
          </Labelled>
          {ranking.data && (
            <p className="text-sm text-pencil">
              {ranking.data.value.left_out} other crops in the library are not grown for this goal. Suitable
              crops come first, ranked by average dry matter per year over the stand life.
            </p>
          )}
          {crops?.[0] && (
            <p className="pt-2 text-sm text-pencil" data-local={crops[0].local}>
              {crops[0].local
                ? "Yields are estimated for this farm’s weather: grasses fertilized, stands in their prime. Your own records are better."
                : "Yields are the library’s, the same everywhere. Set up a weather station or enter average weather for yields of this farm."}
            </p>
          )}
        </form>
      }
      asideFirst
    >
      {crops === undefined ? (
        <NotYet what="Checking crops" of={[ranking]} />
      ) : (
        <>
          <ol className="border-t border-rule">
            {stands.map((one) => (
              <Row key={one.crop} one={one} field={field} most={most} />
            ))}
          </ol>
          {stands.length === 0 && (
            <p className="py-3">No crop for {goal} suits this site. Reasons are listed below.</p>
          )}
          {falls.length > 0 && (
            <Collapse className="pt-3" title={`${falls.length} not suitable, with reasons`}>
              <ol>
                {falls.map((one) => (
                  <Row key={one.crop} one={one} field={field} most={most} />
                ))}
              </ol>
            </Collapse>
          )}
        </>
      )}
    </Page>
  );
}

function Row({ one, field, most }: { one: Schemas["Ranked"]; field: string; most: number }) {
  const farm = useFarm();
  const wide = (value: number) => `${Math.max(0, (100 * value) / most)}%`;
  return (
    <li className="grid gap-x-6 gap-y-1 border-b border-rule py-2.5 md:grid-cols-[15rem_minmax(0,1fr)]">
      <div>
        <Link
          to="/farms/$farm/library"
          params={{ farm: farm.id }}
          search={{ crop: one.crop }}
          className="text-lg font-semibold hover:underline"
        >
          {one.name}
        </Link>
        <p className="text-sm">
          <span className={one.verdict === "unfit" ? "font-semibold text-stop" : ""}>
            {verdicts[one.verdict].sign} {verdicts[one.verdict].word}
          </span>
          {one.earliest && one.earliest > farm.today && `, from ${dayText(one.earliest, yearOf(farm.today))}`}
        </p>
        <p className="pt-1">
          <Figure
            quantity={one.expected.value}
            explains={one.expected}
            label={`${one.name}, per year`}
            className="text-xl font-bold"
          />{" "}
          <span className="text-sm text-pencil">per year</span>
        </p>
        <div
          className="relative mt-1 h-2 bg-sunk"
          role="img"
          aria-label={`established stand, ${range(one.low, one.high)} per season`}
        >
          <div
            className="absolute inset-y-0 bg-wash"
            style={{ left: wide(one.low.value), width: wide(one.high.value - one.low.value) }}
          />
          <div
            className="absolute inset-y-0 left-0 bg-growth"
            style={{ width: wide(one.expected.value.value) }}
          />
        </div>
      </div>
      <div className="text-sm">
        {one.in_favour.length > 0 && (
          <p>
            <strong className="text-growth">+</strong> {one.in_favour.join("; ")}
          </p>
        )}
        {one.against.length > 0 && (
          <p>
            <strong className="text-stop">−</strong> {one.against.join("; ")}
          </p>
        )}
        {one.turn && <p className="text-pencil">To fix: {one.turn}</p>}
        {one.unknown.length > 0 && <p className="text-pencil">Not known yet: {one.unknown.join(", ")}</p>}
        <div className="flex flex-wrap items-baseline gap-x-5">
          {one.verdict !== "unfit" && farm.role === "manager" && (
            <Link
              to="/farms/$farm/start"
              params={{ farm: farm.id }}
              search={{ field: field || undefined, crop: one.crop }}
              className="line-button"
            >
              Start stand
            </Link>
          )}
          <Cautions cautions={one.cautions} />
        </div>
      </div>
    </li>
  );
}
