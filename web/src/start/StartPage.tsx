import { BroadcastChoice } from "./BroadcastChoice";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useDeferredValue, useMemo, useState, type ReactNode } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useWorkedFields, useImplied, useLots, useRecord, useShelf } from "../api/queries";
import type { StartSearch } from "../pages";
import { Readiness } from "../ground/Readiness";
import { GroundChoices, GroundImplied } from "../ground/StartGround";
import { SpanControls } from "../season/SpanControls";
import { useFarm } from "../shell/farm";
import { DayField } from "../kit/Day";
import { Choice } from "../kit/Choice";
import { Labelled } from "../kit/Labelled";
import { QuantityField } from "../kit/Quantity";
import { useUnits } from "../units/useUnits";
import { Page } from "../kit/Page";
import { optionsOf, Pick } from "../kit/Pick";
import { Empty, NotYet, Trouble } from "../kit/states";
import { Tick } from "../kit/Tick";
import { Troubles } from "../kit/Troubles";
import { useWholeDay } from "../kit/useWholeDay";
import { CLEARED } from "../units/day";
import { dayText, yearOf } from "../units/format";
import { goals } from "../units/words";
import { choicesOf, emptyDraft, recordedMix, useDraft, type Change, type Draft } from "./draft";
import { isSowing } from "../draw/Strip";
import { percent } from "../draw/odds";
import { ofSuchYears } from "../when/years";
import { Headline, OrderTable, Remarks } from "./Implied";
import { StepList } from "./StepList";
import { LotPicker } from "./LotPicker";
import { MixEditor } from "./MixEditor";
import { OddsLine } from "../when/OddsLine";
import { SowingStrip } from "./SowingStrip";
import { StandToCome } from "./StandToCome";
import { TakeMix } from "./TakeMix";

/** From a field and a goal to a plan: choices at the left, what they imply at the right. */
export function StartPage() {
  const farm = useFarm();
  const search: StartSearch = useSearch({ strict: false });
  const crops = useCrops();
  const fields = useWorkedFields(farm.id);
  const lots = useLots(farm.id);
  if (!crops.data || !fields.data || !lots.data) return <NotYet what="Loading" of={[crops, fields, lots]} />;
  if (farm.role !== "manager") return <p className="p-6">Only a manager can start a stand.</p>;
  return (
    <Start
      key={`${search.field}-${search.crop}`}
      search={search}
      crops={crops.data}
      fields={fields.data}
      lots={lots.data}
    />
  );
}

interface StartProps {
  search: StartSearch;
  crops: Schemas["Crop"][];
  fields: Schemas["FieldView"][];
  lots: Schemas["LotView"][];
}

function given(search: StartSearch, crops: Schemas["Crop"][]): Partial<Draft> {
  const start: Partial<Draft> = {};
  if (search.field) start.field = search.field;
  const crop = crops.find((one) => one.id === search.crop);
  if (crop?.sowing) {
    const { low, unit } = crop.sowing.rate;
    Object.assign(start, {
      plants: null,
      by: "mass",
      members: [{ crop: crop.id, amount: { value: low, unit } }],
      lots: [],
    });
  } else if (crop?.planting) start.plants = crop.id;
  return start;
}

function Start({ search, crops, fields, lots }: StartProps) {
  const farm = useFarm();
  const navigate = useNavigate();
  const { draft, change, forget, lost } = useDraft(farm.id, given(search, crops));
  const [ids] = useState(() => ({ stand: uuid(), entry: uuid() }));
  const [confirmed, setConfirmed] = useState(false);
  // The day that was proposed to these choices before; today until the first answer.
  const [proposed, setProposed] = useState<Schemas["Proposal"] | null>(null);
  const typed = useWholeDay(draft.sowOn);
  const sowOn = typed.day || proposed?.sow_on || farm.today;
  const choices = useMemo(() => choicesOf(draft, lots, sowOn), [draft, lots, sowOn]);
  const asked = useDeferredValue(choices);
  const known = fields.some((field) => field.id === draft.field);
  const implied = useImplied(farm.id, known ? draft.field : undefined, asked);
  const proposal = implied.isPlaceholderData ? null : (implied.data?.proposal ?? null);
  if (proposal && proposal.sow_on !== proposed?.sow_on) setProposed(proposal);
  const start = useRecord(farm.id, () => {
    if (!choices) throw new Error("No choice made yet.");
    const body = { id: ids.stand, entry: ids.entry, field: draft.field, choices, confirmed };
    return answered(api.POST("/api/farms/{farm}/stands", { params: { path: { farm: farm.id } }, body }));
  });
  const refused = [start.error, implied.error].find((error) => error instanceof Refused);
  const at = (pointer: string) => refused?.at(pointer);
  const name = (id: string) => crops.find((crop) => crop.id === id)?.name ?? id;
  const mix = useMemo(() => recordedMix(draft), [draft]);
  const answer = choices && known && !implied.error ? implied.data : undefined;

  return (
    <Page title="Start stand">
      <div className="grid gap-x-10 lg:grid-cols-[26rem_minmax(0,1fr)]">
        <form onSubmit={(event) => event.preventDefault()} aria-label="Choices">
          {lost && (
            <p role="status" className="border-l-3 border-straw pl-3 text-sm">
              Part of an older draft could not be read and was dropped.
            </p>
          )}
          <Section title="Field and goal">
            <div className="grid grid-cols-2 gap-4">
              <Pick
                label="Field"
                value={draft.field}
                onChange={(field) => change({ field })}
                empty="choose a field"
                options={fields.map((field) => ({ value: field.id, text: field.name }))}
              />
              <Pick
                label="Goal"
                value={draft.goal}
                onChange={(goal) => goal && change({ goal })}
                options={optionsOf(goals)}
              />
            </div>
          </Section>
          <Section title="Crop or mix">
            <p className="text-sm">
              <Link
                to="/farms/$farm/library/choose"
                params={{ farm: farm.id }}
                search={{
                  field: draft.field || undefined,
                  goal: draft.goal === "hay-and-grazing" ? "hay" : draft.goal,
                }}
                className="line-button"
              >
                Choose a crop
              </Link>
            </p>
            {!draft.plants && <TakeMix draft={draft} change={change} />}
            <CoverEditor draft={draft} change={change} crops={crops} mix={answer?.mix} errorAt={at} />
          </Section>
          {!draft.plants && draft.members.length > 0 && (
            <Section title="Seed">
              <LotPicker
                crops={draft.members.map((member) => ({ id: member.crop, name: name(member.crop) }))}
                lots={lots}
                chosen={draft.lots}
                onChange={(next) => change({ lots: next })}
              />
              <DormantChoice draft={draft} change={change} />
            </Section>
          )}
          <Section title="Method and date">
            <Conditions draft={draft} change={change} errorAt={at} />
            <Timing draft={draft} change={change} timings={implied.data?.timings ?? []} />
            <div className="grid grid-cols-2 gap-4 pt-2">
              <DayField
                label="Sowing date"
                // Emptied, it stays empty: the proposal is taken by its button.
                value={draft.sowOn || sowOn}
                onChange={(day) => change({ sowOn: day || CLEARED })}
                error={at("/choices/sow_on")}
              />
              <QuantityField
                label="Extra to order"
                bare="%"
                value={draft.spare}
                onChange={(spare) => change({ spare: spare ?? { value: 0, unit: "%" } })}
                error={at("/choices/spare")}
              />
            </div>
          </Section>
          {proposed && answer && (
            <div className="text-sm" data-proposed={proposed.sow_on}>
              <p>
                Suggested {dayText(proposed.sow_on, yearOf(farm.today))}: {(proposal ?? proposed).why}.{" "}
                {draft.sowOn !== "" && draft.sowOn !== proposed.sow_on && (
                  <button type="button" className="line-button" onClick={() => change({ sowOn: "" })}>
                    Use this date
                  </button>
                )}
              </p>
              {proposed.better && (
                <p data-better={proposed.better.on}>
                  Best odds: {percent(proposed.better.odds)} on{" "}
                  {dayText(proposed.better.on, yearOf(farm.today))}.{" "}
                  {draft.sowOn !== proposed.better.on && (
                    <button
                      type="button"
                      className="line-button"
                      onClick={() => change({ sowOn: proposed.better?.on ?? "" })}
                    >
                      Use the best date
                    </button>
                  )}
                </p>
              )}
            </div>
          )}
          <Section title="Lime and nutrients">
            <GroundChoices draft={draft} change={change} implied={implied.data} errorAt={at} />
          </Section>
          <button
            type="button"
            className="pt-3 text-sm underline decoration-dotted"
            onClick={() => change({ ...emptyDraft(), field: draft.field })}
          >
            Clear form
          </button>
        </form>

        <section aria-label="Results" aria-live="polite" className="min-w-0 space-y-5 max-lg:pt-6">
          {!answer && !refused && (
            <Empty>
              Choose a field and a crop to see the plan, seed order and cost here. They update with every
              change.
            </Empty>
          )}
          {refused && <Trouble error={refused} />}
          {answer && (
            <>
              <Decided implied={answer} today={farm.today} />
              {answer.unusual.length > 0 && (
                <Tick className="border-l-3 border-stop pl-3" checked={confirmed} onChange={setConfirmed}>
                  {answer.unusual.map((one) => one.detail).join(". ")}. <strong>Yes, this is correct.</strong>
                </Tick>
              )}
              <button
                type="button"
                className="ink-button"
                disabled={start.isPending || typed.half || (answer.unusual.length > 0 && !confirmed)}
                onClick={() =>
                  start.mutate(undefined, {
                    onSuccess: () => {
                      forget();
                      void navigate({
                        to: "/farms/$farm/fields/$field",
                        params: { farm: farm.id, field: draft.field },
                      });
                    },
                  })
                }
              >
                Start stand
              </button>
              {answer.readiness && <Readiness answer={answer.readiness} />}
              <Remarks implied={answer} />
              <Troubles troubles={answer.troubles} />
              <div>
                <SpanControls />
                <SowingStrip
                  plan={answer.plan}
                  windows={answer.windows}
                  sowOn={sowOn}
                  onSowOn={(sowOn) => change({ sowOn })}
                  today={farm.today}
                />
                <OddsLine plan={answer.plan}>
                  <Link
                    to="/farms/$farm/when"
                    params={{ farm: farm.id }}
                    search={{ draft: true }}
                    onClick={() => change({ sowOn })}
                    className="underline"
                  >
                    Timing
                  </Link>
                </OddsLine>
              </div>
              {mix && mix.members.length > 1 && <StandToCome mix={mix} goal={draft.goal} />}
              <GroundImplied draft={draft} change={change} implied={answer} />
              {answer.mix && <OrderTable implied={answer} names={name} />}
              <Link
                to="/farms/$farm/start/beside"
                params={{ farm: farm.id }}
                search={{}}
                className="line-button"
              >
                Compare methods
              </Link>
              <StepList plan={answer.plan} />
            </>
          )}
        </section>
      </div>
    </Page>
  );
}

/** What it comes to, before anything else: the day, its odds and what the seed costs. */
function Decided({ implied, today }: { implied: Schemas["Implied"]; today: string }) {
  const sowing = implied.plan.steps.find(isSowing);
  return (
    <div>
      <p className="text-2xl leading-tight font-bold" data-sow-on={implied.plan.sown_on}>
        {sowing?.title ?? "Sow"} {dayText(implied.plan.sown_on, yearOf(today))}
        {sowing?.odds && (
          <span className="font-normal">
            : {percent(sowing.odds.odds)} <span className="text-base">{ofSuchYears(sowing.odds.basis)}</span>
          </span>
        )}
      </p>
      <Headline implied={implied} />
    </div>
  );
}

function Section({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-3 border-t-2 border-ink pt-2">
      <h2 className="pb-1">{title}</h2>
      {children}
    </section>
  );
}

/** Which school of timing the day is read by. */
function Timing({ draft, change, timings }: EditProps & { timings: Schemas["TimingOffered"][] }) {
  if (timings.length === 0) return null;
  const of = (usual: boolean) =>
    timings.filter((one) => one.usual === usual).map((one) => ({ value: one.window, text: one.name }));
  // A way chosen for another crop is not offered to this one: it is told of beside the plan until another is chosen.
  const value = timings.some((one) => one.window === draft.timing) ? draft.timing : "";
  const others = of(false);
  return (
    <Pick
      className="pt-2"
      label="Sowing window"
      value={value}
      onChange={(timing) => change({ timing })}
      empty="whichever has the best odds"
      clears
      options={others.length === 0 ? of(true) : [...of(true), { heading: "Less usual", options: others }]}
    />
  );
}

interface EditProps {
  draft: Draft;
  change: Change;
}

function CoverEditor({
  draft,
  change,
  crops,
  mix,
  errorAt,
}: EditProps & {
  crops: Schemas["Crop"][];
  mix: Schemas["Answer_MixRates"] | null | undefined;
  errorAt: (pointer: string) => string | undefined;
}) {
  const planted = crops.filter((crop) => crop.planting);
  const units = useUnits();
  return (
    <>
      <Choice
        label="Seed or plants"
        value={draft.plants ? "plants" : "seed"}
        // Rows of seed are none of plants.
        onChange={(as) =>
          change({ plants: as === "plants" ? (planted[0]?.id ?? null) : null, rows: null, inRow: null })
        }
        options={[
          { value: "seed", text: "seed" },
          { value: "plants", text: "rhizomes or cuttings" },
        ]}
      />
      {draft.plants ? (
        <div className="grid grid-cols-2 gap-4">
          <Pick
            label="Crop"
            value={draft.plants}
            onChange={(plants) => plants && change({ plants })}
            options={planted.map((crop) => ({ value: crop.id, text: crop.name }))}
          />
          <Labelled label="Pieces per station" error={errorAt("/choices/cover/plants/pieces_per_station")}>
            {(ids) => (
              <input
                {...ids}
                type="number"
                min={1}
                max={10}
                className="entry"
                value={draft.pieces}
                onChange={(event) => change({ pieces: Number(event.target.value) || 1 })}
              />
            )}
          </Labelled>
          <QuantityField
            label="Row spacing (optional)"
            bare={units.spacing}
            value={draft.rows}
            onChange={(rows) => change({ rows })}
            error={errorAt("/choices/cover/plants/row_spacing")}
          />
          <QuantityField
            label="In-row spacing (optional)"
            bare={units.spacing}
            value={draft.inRow}
            onChange={(inRow) => change({ inRow })}
            error={errorAt("/choices/cover/plants/in_row")}
          />
        </div>
      ) : (
        <MixEditor draft={draft} change={change} crops={crops} rates={mix} errorAt={errorAt} />
      )}
    </>
  );
}

function DormantChoice({ draft, change }: EditProps) {
  return (
    <div className="pt-2">
      <p className="text-sm font-semibold">Hard or dormant seed</p>
      <Choice
        label="Hard or dormant seed"
        value={draft.dormant}
        onChange={(dormant) => change({ dormant })}
        options={[
          { value: "usual", text: "crop default" },
          { value: "counts", text: "counted as live" },
          { value: "left-out", text: "not counted" },
        ]}
      />
    </div>
  );
}

function Conditions({
  draft,
  change,
  errorAt,
}: EditProps & { errorAt: (pointer: string) => string | undefined }) {
  const units = useUnits();
  const shelf = useShelf();
  const sown = draft.plants ? "plants" : "seed";
  const practices = (shelf.data?.practices ?? []).filter((one) => ["any", sown].includes(one.for));
  const regimes = shelf.data?.regimes ?? [];
  const set = (part: Partial<Draft["conditions"]>) =>
    change({ conditions: { ...draft.conditions, ...part } });
  return (
    <>
      {!draft.plants && (
        <div className="flex flex-wrap gap-x-6">
          <Choice
            label="Method"
            value={draft.conditions.method ?? "drill"}
            onChange={(method) => set({ method })}
            options={[
              { value: "drill", text: "drilled" },
              { value: "broadcast", text: "broadcast" },
            ]}
          />
          <Choice
            label="Seedbed"
            value={draft.conditions.seedbed ?? "good"}
            onChange={(seedbed) => set({ seedbed })}
            options={[
              { value: "good", text: "good" },
              { value: "fair", text: "fair" },
              { value: "poor", text: "poor" },
            ]}
          />
          {draft.conditions.method === "broadcast" && (
            <BroadcastChoice
              value={draft.conditions.broadcast}
              onChange={(broadcast) => set({ broadcast })}
            />
          )}
          <Choice
            label="Timing"
            value={draft.conditions.late ? "late" : "in-time"}
            onChange={(timing) => set({ late: timing === "late" })}
            options={[
              { value: "in-time", text: "on time" },
              { value: "late", text: "late" },
            ]}
          />
        </div>
      )}
      {!draft.plants && draft.conditions.method === "drill" && (
        <QuantityField
          className="max-w-48"
          label="Row spacing (optional)"
          bare={units.spacing}
          value={draft.rows}
          onChange={(rows) => change({ rows })}
          error={errorAt("/choices/row_spacing")}
          hint="The drill’s own if left blank."
        />
      )}
      <Pick
        label="Method"
        hint={practices.find((one) => one.key === draft.practice)?.why}
        value={draft.practice}
        onChange={(practice) => practice && change({ practice })}
        options={practices.map((one) => ({ value: one.key, text: one.name }))}
      />
      <Pick
        label="Regime"
        empty="choose later"
        clears
        hint={regimes.find((one) => one.key === draft.regime)?.why}
        value={draft.regime}
        onChange={(regime) => change({ regime })}
        options={regimes.map((one) => ({ value: one.key, text: one.name }))}
      />
    </>
  );
}
