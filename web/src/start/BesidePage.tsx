import { Link, useNavigate } from "@tanstack/react-router";
import { useMemo, useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useLots, useReckoning, useShelf, useWorkedFields } from "../api/queries";
import { Axis, timeScale } from "../draw/Axis";
import { percent } from "../draw/odds";
import { StripDrawing } from "../draw/Strip";
import { useSpan } from "../draw/span";
import { useWidth } from "../draw/useWidth";
import { DayField } from "../kit/Day";
import { Figure } from "../kit/Figure";
import { Page } from "../kit/Page";
import { Pick } from "../kit/Pick";
import { Empty, NotYet, Trouble } from "../kit/states";
import { SpanControls } from "../season/SpanControls";
import { useFarm } from "../shell/farm";
import { wholeOr } from "../units/day";
import { dayText, yearOf } from "../units/format";
import { useUnits } from "../units/useUnits";
import { verdicts } from "../units/words";
import { choicesOf, useDraft, type Draft } from "./draft";

/** One way to make the stand of the draft: another school, or another day. */
interface Copy {
  id: number;
  practice: string;
  /** Empty for the first sound day; as far as it is typed. */
  sowOn: string;
  /** The last day that was whole, while another is typed. */
  whole: string;
}

const MOST = 6;

/** What is being decided, as several schools would have it: when, how likely, what it costs and brings, what differs. */
export function BesidePage() {
  const farm = useFarm();
  const fields = useWorkedFields(farm.id);
  const lots = useLots(farm.id);
  const shelf = useShelf();
  const crops = useCrops();
  const { draft, change } = useDraft(farm.id, {});
  if (!fields.data || !lots.data || !shelf.data || !crops.data)
    return <NotYet what="Working out plans" of={[fields, lots, shelf, crops]} />;
  const field = fields.data.find((one) => one.id === draft.field);
  const choices = choicesOf(draft, lots.data, farm.today);
  if (!field || !choices)
    return (
      <Page title="Compare methods">
        <Empty>
          Choose a field and a crop first under{" "}
          <Link to="/farms/$farm/start" params={{ farm: farm.id }} search={{}} className="underline">
            Start stand
          </Link>
          , then compare methods here.
        </Empty>
      </Page>
    );
  const sown = draft.plants ? "plants" : "seed";
  const schools = shelf.data.practices.filter((one) => ["any", sown].includes(one.for));
  return (
    <Beside
      draft={draft}
      change={(part) => change(part)}
      choices={choices}
      schools={schools}
      field={field}
      what={
        choices.cover.as === "plants" ? [choices.cover.plants.crop] : draft.members.map(({ crop }) => crop)
      }
      crops={crops.data}
    />
  );
}

interface Props {
  draft: Draft;
  change: (part: Partial<Draft>) => void;
  choices: Schemas["Choices"];
  schools: Schemas["Shelf"]["practices"];
  field: Schemas["FieldView"];
  what: string[];
  crops: Schemas["Crop"][];
}

function Beside({ draft, change, choices, schools, field, what, crops }: Props) {
  const farm = useFarm();
  const units = useUnits();
  const navigate = useNavigate();
  const other = schools.find(({ key }) => key !== draft.practice);
  const [copies, setCopies] = useState<Copy[]>(() => [
    { id: 0, practice: draft.practice, sowOn: draft.sowOn, whole: wholeOr(draft.sowOn, "") },
    ...(other ? [{ id: 1, practice: other.key, sowOn: "", whole: "" }] : []),
  ]);
  const ways = useMemo(
    () =>
      copies.map(({ practice, whole }) => ({
        name: practice,
        choices: { ...choices, practice, ...(whole ? { sow_on: whole } : {}) },
        first_sound_day: whole === "",
      })),
    [copies, choices],
  );
  const path = { farm: farm.id };
  const told = useReckoning("plans", [units.system, field.id, ways], () =>
    answered(api.POST("/api/farms/{farm}/plans", { params: { path }, body: { field: field.id, ways } })),
  );
  const refused = told.error instanceof Refused ? told.error : undefined;
  const [width, ref] = useWidth();
  const { span } = useSpan();
  const scale = timeScale(span, width);
  const put = (id: number, part: Partial<Copy>) =>
    setCopies((old) => old.map((one) => (one.id === id ? { ...one, ...part } : one)));
  const take = ({ practice }: Copy, way: Schemas["ComparedWay"]) => {
    change({ practice, sowOn: way.sow_on });
    void navigate({ to: "/farms/$farm/start", params: { farm: farm.id }, search: {} });
  };
  const names = what.map((id) => crops.find((crop) => crop.id === id)?.name ?? id).join(", ");
  const answer = refused ? undefined : told.data;
  const late = told.isPlaceholderData || answer?.ways.length !== copies.length;
  return (
    <Page
      title="Compare methods"
      about={
        <p className="text-pencil">
          {names} on {field.name} by several methods. Nothing is decided here.
        </p>
      }
    >
      <div className="flex flex-wrap items-end justify-between gap-x-6">
        <SpanControls />
        <Pick
          className="min-w-72"
          label="Add method"
          value=""
          empty="choose a method"
          disabled={copies.length >= MOST}
          options={schools.map(({ key, name }) => ({ value: key, text: name }))}
          onChange={(practice) =>
            practice &&
            setCopies((old) => [
              ...old,
              { id: Math.max(-1, ...old.map((one) => one.id)) + 1, practice, sowOn: "", whole: "" },
            ])
          }
        />
      </div>
      {refused && <Trouble error={refused} />}
      <div className="grid grid-cols-[19rem_minmax(0,1fr)] gap-x-5 max-lg:grid-cols-1">
        <span className="max-lg:hidden" />
        <div ref={ref}>
          <Axis scale={scale} width={width} today={farm.today} />
        </div>
      </div>
      <ol aria-label="Methods" aria-busy={late}>
        {copies.map((copy, index) => {
          const way = late ? undefined : answer?.ways[index];
          const school = schools.find(({ key }) => key === copy.practice);
          return (
            <li
              key={copy.id}
              data-way={copy.practice}
              className="grid grid-cols-[19rem_minmax(0,1fr)] gap-x-5 border-t-2 border-ink py-2 max-lg:grid-cols-1"
            >
              <div>
                <div className="flex items-baseline justify-between gap-x-2">
                  <h2 className="leading-tight">{school?.name ?? copy.practice}</h2>
                  {copies.length > 1 && (
                    <button
                      type="button"
                      className="min-h-9 text-xl text-pencil"
                      aria-label={`Remove ${school?.name ?? copy.practice}`}
                      onClick={() => setCopies((old) => old.filter(({ id }) => id !== copy.id))}
                    >
                      ×
                    </button>
                  )}
                </div>
                {way && <Figures way={way} today={farm.today} />}
              </div>
              <div className="min-w-0">
                {way && width > 0 && (
                  <StripDrawing
                    stands={[standOf(way, farm.today)]}
                    scale={scale}
                    width={width}
                    height={64}
                    today={farm.today}
                  />
                )}
                {way?.proposal && copy.sowOn === "" && (
                  <p className="text-sm text-pencil">{way.proposal.why}.</p>
                )}
                {way?.odds && (
                  <p className="text-sm text-pencil">
                    Likely range {percent(way.odds.low)}–{percent(way.odds.high)}
                    {way.odds.limited_by && `. Main limit: ${way.odds.limited_by}`}.
                  </p>
                )}
                {way && way.late > 0 && (
                  <p className="text-sm font-semibold text-stop">
                    ✕ {way.late === 1 ? "1 step is" : `${way.late} steps are`} already too late.
                  </p>
                )}
                <div className="flex items-end gap-x-4">
                  <DayField
                    label="Sowing date"
                    value={copy.sowOn}
                    onChange={(sowOn) => put(copy.id, { sowOn, whole: wholeOr(sowOn, copy.whole) })}
                    error={refused?.at(`/ways/${index}/choices/sow_on`)}
                    hint={copy.whole === "" ? "Leave blank for the first suitable day." : undefined}
                  />
                  {way && (
                    <button type="button" className="line-button mb-6" onClick={() => take(copy, way)}>
                      Use this method
                    </button>
                  )}
                </div>
              </div>
            </li>
          );
        })}
      </ol>
      {answer && !late && copies.length > 1 && <Differences answer={answer} today={farm.today} />}
    </Page>
  );
}

/** A way as a strip draws a stand: all of it in pencil. */
function standOf(way: Schemas["ComparedWay"], today: string): Schemas["StandView"] {
  const plan = {
    today,
    practice: way.practice,
    sown_on: way.sow_on,
    sown: false,
    until: null,
    steps: way.steps,
  };
  return { id: way.practice, marks: [], plan, windows: [] } as unknown as Schemas["StandView"];
}

function Figures({ way, today }: { way: Schemas["ComparedWay"]; today: string }) {
  const year = yearOf(today);
  const fit = way.fit && verdicts[way.fit];
  return (
    <dl className="grid grid-cols-[6.5rem_minmax(0,1fr)] gap-x-3 py-1 text-sm">
      <dt className="text-pencil">sown</dt>
      <dd className="text-lg leading-snug font-bold" data-sow={way.sow_on}>
        {dayText(way.sow_on, year)}
        {way.odds && <span data-odds={Math.round(way.odds.odds * 100)}>, {percent(way.odds.odds)}</span>}
      </dd>
      <dt className="text-pencil">work starts</dt>
      <dd>{way.begins ? dayText(way.begins, year) : "no open steps"}</dd>
      <dt className="text-pencil">field</dt>
      <dd>{fit ? `${fit.sign} ${fit.word}` : "unknown"}</dd>
      <dt className="text-pencil">seed</dt>
      <dd>{way.cost ? <Figure quantity={way.cost} /> : "choose priced lots"}</dd>
      <dt className="text-pencil">dry matter</dt>
      <dd>
        <YearByYear yields={way.yields} />
      </dd>
    </dl>
  );
}

/** "2.5 t/ha, from year 2 on 4.4 t/ha": a year that brings what the one before did is not told again. */
function YearByYear({ yields }: { yields: Schemas["ComparedWay"]["yields"] }) {
  if (yields.length === 0) return "unknown";
  return yields.map((amount, index) => {
    const before = yields[index - 1];
    if (before && Math.abs(before.value - amount.value) < 0.005 * Math.max(1, amount.value)) return null;
    return (
      <span key={index}>
        {index > 0 && `, from year ${index + 1} `}
        <Figure quantity={amount} />
      </span>
    );
  });
}

/** Steps that are not the same in all ways. */
function Differences({ answer, today }: { answer: Schemas["PlanComparison"]; today: string }) {
  const year = yearOf(today);
  return (
    <section aria-label="Differences" className="border-t-2 border-ink pt-2">
      <h2>Differences</h2>
      {answer.differ.length === 0 && <p className="text-pencil">None: same steps on the same days.</p>}
      {answer.differ.length > 0 && (
        <div className="overflow-x-auto">
          <table className="w-full text-sm">
            <thead>
              <tr className="border-b border-ink text-left text-pencil">
                <th className="py-1 pr-4 font-normal">Step</th>
                {answer.ways.map((way, index) => (
                  <th key={index} className="py-1 pr-4 font-normal">
                    {way.school}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {answer.differ.map((one) => (
                <tr key={one.title} className="border-b border-rule" data-differs={one.title}>
                  <th scope="row" className="py-1 pr-4 text-left font-semibold">
                    {one.title}
                  </th>
                  {one.days.map((days, index) => (
                    <td key={index} className={`py-1 pr-4 ${days ? "" : "text-pencil"}`}>
                      {days
                        ? `${dayText(days.from, year)} to ${dayText(days.to, year)}${(one.times[index] ?? 1) > 1 ? `, ${one.times[index]} times` : ""}`
                        : "not done"}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {answer.same.length > 0 && (
        <p className="pt-1 text-sm text-pencil">Same in all: {answer.same.join(", ").toLowerCase()}.</p>
      )}
    </section>
  );
}
