import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import { useDeferredValue, useState } from "react";
import { Refused, type Schemas } from "../api/client";
import { useLots, useOddsLevel, useSeason, useSettle, useStand, useWindows } from "../api/queries";
import { ofYears } from "./years";
import { timeScale } from "../draw/Axis";
import { percentRange, valueOn } from "../draw/odds";
import { useRevealed, useSpan } from "../draw/span";
import { useWidth } from "../draw/useWidth";
import { SpanControls } from "../season/SpanControls";
import { useMoveSowing } from "../season/useMoveSowing";
import type { WhenSearch } from "../pages";
import { useFarm } from "../shell/farm";
import { choicesOf, useDraft } from "../start/draft";
import { Choice } from "../kit/Choice";
import { Figure } from "../kit/Figure";
import { Page } from "../kit/Page";
import { Pick } from "../kit/Pick";
import { Empty, NotYet, Trouble } from "../kit/states";
import { wholeOr } from "../units/day";
import { dayText, yearOf, type Quantity } from "../units/format";
import { Rules } from "./Rules";
import { Curve } from "./Curve";
import { Aside, Notes } from "./Aside";
import { SoilYears } from "./SoilYears";

/** One decision, taken apart: when to sow, how likely it is to work, and what stands in the way. */
export function WhenPage() {
  const farm = useFarm();
  const search: WhenSearch = useSearch({ strict: false });
  const season = useSeason(farm.id);
  if (season.data === undefined) return <NotYet what="Working out odds" of={[season]} />;
  const open = season.data.strips.flatMap((strip) =>
    strip.stands
      .filter((stand) => !stand.plan.sown)
      .map((stand) => ({ id: stand.id, field: strip.field, cover: stand.cover })),
  );
  if (search.draft) return <OfDraft open={open} />;
  const chosen = open.find((one) => one.id === search.stand) ?? open[0];
  if (!chosen)
    return (
      <div className="px-5 py-3 max-sm:px-4">
        <Empty>
          All stands are sown.{" "}
          <Link to="/farms/$farm/start" params={{ farm: farm.id }} className="underline">
            Start stand
          </Link>{" "}
          to see when to sow.
        </Empty>
      </div>
    );
  return <OfStand key={chosen.id} open={open} chosen={chosen} />;
}

export interface OpenStand {
  id: string;
  field: Schemas["FieldView"];
  cover: string;
}

function OfStand({ open, chosen }: { open: OpenStand[]; chosen: OpenStand }) {
  const farm = useFarm();
  const detail = useStand(farm.id, chosen.id);
  const move = useMoveSowing(farm.id);
  const [on, setOn] = useState<string | null>(null);
  if (detail.data === undefined) return <NotYet what="Working out odds" of={[detail]} />;
  const { choices } = detail.data;
  const here = on ?? choices.sow_on;
  return (
    <When
      open={open}
      chosen={chosen}
      title={`${chosen.field.name}: sowing odds for ${chosen.cover}`}
      field={chosen.field.id}
      choices={choices}
      on={here}
      onMove={setOn}
      stake={(detail.data.implied.order?.value.cost as Quantity | undefined) ?? null}
      decide={
        farm.role === "manager" && here !== choices.sow_on
          ? {
              busy: move.isPending,
              failed: move.error,
              act: (timing) =>
                move.mutate(
                  {
                    stand: chosen.id,
                    decided: detail.data.stand.decided,
                    on: here,
                    today: farm.today,
                    timing,
                  },
                  { onSuccess: () => setOn(null) },
                ),
            }
          : undefined
      }
    />
  );
}

function OfDraft({ open }: { open: OpenStand[] }) {
  const farm = useFarm();
  const lots = useLots(farm.id);
  const navigate = useNavigate();
  const { draft, change } = useDraft(farm.id, {});
  const sowOn = wholeOr(draft.sowOn, "") || farm.today;
  const choices = lots.data && choicesOf(draft, lots.data, sowOn);
  if (lots.data === undefined) return <NotYet what="Working out odds" of={[lots]} />;
  if (!choices || !draft.field)
    return (
      <div className="px-5 py-3 max-sm:px-4">
        <Empty>
          First{" "}
          <Link to="/farms/$farm/start" params={{ farm: farm.id }} className="underline">
            choose a field and a crop
          </Link>
          .
        </Empty>
      </div>
    );
  return (
    <When
      open={open}
      title="Stand being planned"
      field={draft.field}
      choices={choices}
      on={sowOn}
      onMove={(sowOn) => change({ sowOn })}
      stake={null}
      decide={{
        busy: false,
        failed: null,
        act: (timing) => {
          change({ timing });
          void navigate({ to: "/farms/$farm/start", params: { farm: farm.id } });
        },
      }}
    />
  );
}

interface Decide {
  busy: boolean;
  failed: Refused | null;
  act: (timing: string) => void;
}

interface Props {
  open: OpenStand[];
  chosen?: OpenStand;
  title: string;
  field: string;
  choices: Schemas["Choices"];
  on: string;
  onMove: (on: string) => void;
  stake: Quantity | null;
  decide: Decide | undefined;
}

/** The odds at which a window counts as open: a person's own, on every screen. */
function useLevel() {
  const settle = useSettle();
  const kept = useOddsLevel();
  const [moving, setMoving] = useState<number | null>(null);
  return {
    level: moving ?? kept,
    move: setMoving,
    // The level it was left at: what was moved meanwhile is not taken back by the answer to this.
    set: (left: number) => {
      const done = () => setMoving((now) => (now === left ? null : now));
      if (left === kept) return done();
      void settle({ odds_level: { value: left, unit: "1" } as Schemas["Fraction"] }).finally(done);
    },
  };
}

function When({ open, chosen, title, field, choices, on, onMove, stake, decide }: Props) {
  const farm = useFarm();
  const navigate = useNavigate();
  const { level, move, set } = useLevel();
  const [way, setWay] = useState<string | null>(null);
  const [cost, setCost] = useState<Quantity | null>(stake);
  const { span } = useSpan();
  useRevealed(choices.sow_on);
  const [width, ref] = useWidth();
  const asked = useDeferredValue({ ...choices, sow_on: on });
  const answer = useWindows(farm.id, field, asked, level, cost as Schemas["Money"] | null);
  if (answer.data === undefined) return <NotYet what="Working out odds" of={[answer]} />;
  const view = answer.data;
  const ways = view.windows.map((window) => window.value);
  const key = way && ways.some((one) => one.window === way) ? way : (view.read_by ?? ways[0]?.window);
  const shown = view.windows.find((window) => window.value.window === key);
  if (!shown)
    return (
      <div className="px-5 py-3 max-sm:px-4">
        <Empty>
          No weather years yet.{" "}
          <Link to="/farms/$farm/set-up/weather" params={{ farm: farm.id }} className="underline">
            Enter average weather or import daily records
          </Link>
          . Odds need ten years; thirty are best.
        </Empty>
      </div>
    );
  const { curve } = shown.value;
  const scale = timeScale(span, width);
  // What is over has no odds any more.
  const isPast = on < farm.today;
  const odds = isPast ? undefined : valueOn(curve.from, curve.odds, on);
  const year = yearOf(farm.today);
  const limit = shown.value.curve.rules
    .map((rule) => ({
      rule,
      alone: valueOn(curve.from, rule.alone, on) ?? 0,
      holds: valueOn(curve.from, rule.holds, on) ?? 1,
    }))
    .sort((a, b) => b.alone - a.alone || a.holds - b.holds)[0];
  return (
    <Page
      title={title}
      titleId="when-title"
      tools={
        open.length > 1 &&
        chosen && (
          <Pick
            label="Other stand"
            hideLabel
            className="w-72"
            value={chosen.id}
            onChange={(stand) =>
              void navigate({ to: "/farms/$farm/when", params: { farm: farm.id }, search: { stand } })
            }
            options={open.map((one) => ({ value: one.id, text: `${one.field.name}, ${one.cover}` }))}
          />
        )
      }
      aside={
        <Aside
          view={view}
          answer={shown}
          level={level}
          onLevel={move}
          onLevelSet={set}
          stake={cost}
          onStake={setCost}
          on={on}
        />
      }
    >
      <section aria-labelledby="when-title">
        <div className="flex flex-wrap items-end justify-between gap-x-6">
          <p
            data-odds={odds === undefined ? "" : Math.round(odds * 100)}
            aria-live="polite"
            aria-busy={answer.isPlaceholderData || asked.sow_on !== on}
          >
            {odds === undefined ? (
              <span className="text-2xl font-bold">
                {isPast ? "This day has passed" : "outside the weather record"}
              </span>
            ) : (
              <Figure
                quantity={{ value: Math.round(odds * 100), unit: "%" }}
                explains={shown}
                label="Odds"
                className="text-3xl font-bold"
              />
            )}{" "}
            {!isPast && `${ofYears(curve)} `}
            {isPast ? `(${dayText(on, year)})` : `if sown ${dayText(on, year)}`}
            {odds !== undefined && (
              <span className="text-pencil">
                {" "}
                (likely range{" "}
                {percentRange(
                  valueOn(curve.from, curve.low, on) ?? 0,
                  valueOn(curve.from, curve.high, on) ?? 1,
                )}
                )
              </span>
            )}
            {!isPast && limit && limit.holds < 1 && (
              <>
                . Main limit: <strong data-limit={limit.rule.key}>{limit.rule.name}</strong>
              </>
            )}
          </p>
          {decide && (
            <button
              type="button"
              className="ink-button"
              disabled={decide.busy}
              onClick={() => decide.act(shown.value.window)}
            >
              Plan for {dayText(on, year)}
            </button>
          )}
        </div>
        {decide?.failed && <Trouble error={decide.failed} />}
        <div className="flex flex-wrap items-center justify-between gap-x-6">
          <Choice
            label="Sowing window"
            value={shown.value.window}
            onChange={setWay}
            options={ways.map((one) => ({ value: one.window, text: one.name }))}
          />
          <SpanControls />
        </div>
        <div className="sm:pl-50">
          <div ref={ref} />
        </div>
        {width > 0 && (
          <>
            <Curve
              answer={shown.value}
              level={level}
              scale={scale}
              width={width}
              on={on}
              onMove={onMove}
              today={farm.today}
            />
            <Rules answer={shown.value} scale={scale} width={width} on={on} today={farm.today} />
            <SoilYears view={view} from={curve.from} scale={scale} width={width} on={on} today={farm.today} />
          </>
        )}
        <Notes view={view} answer={shown.value} />
      </section>
    </Page>
  );
}
