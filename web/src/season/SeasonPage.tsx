import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { useOddsLevel, useSeason } from "../api/queries";
import type { Schemas } from "../api/client";
import { Axis, timeScale } from "../draw/Axis";
import { FieldShape } from "../draw/FieldShape";
import { StripDrawing, type Placed } from "../draw/Strip";
import { percent } from "../draw/odds";
import { useSpan, type Span } from "../draw/span";
import { dayText, isoDay, plain, shown } from "../units/format";
import { useWidth } from "../draw/useWidth";
import { useFarm } from "../shell/farm";
import { mostOf } from "../draw/growthPaths";
import { Choice } from "../kit/Choice";
import { Figure } from "../kit/Figure";
import { Tip } from "../kit/Tip";
import { useTell } from "../kit/Told";
import { legend, stripHeight } from "./legend";
import { Empty, NotYet, Trouble } from "../kit/states";
import { Page } from "../kit/Page";
import type { StepToInk } from "../records/tasks";
import { EntrySheet, InkSheet } from "../records/sheets";
import { Clashes } from "./Clashes";
import { GrowthStrip } from "./GrowthStrip";
import { InSight } from "./InSight";
import { NextList } from "./NextList";
import { SpanControls } from "./SpanControls";
import { useGrowths, type Growths } from "./useGrowths";
import { useMoveSowing } from "./useMoveSowing";
import { WeatherBand } from "./WeatherBand";

export function SeasonPage() {
  const farm = useFarm();
  const season = useSeason(farm.id);
  const { span } = useSpan();
  const [width, ref] = useWidth();
  const [inking, setInking] = useState<StepToInk | null>(null);
  const [reading, setReading] = useState<string | null>(null);
  const [lens, setLens] = useState<"work" | "growth">("work");
  const [seen, setSeen] = useState<ReadonlySet<string>>(new Set());
  const sown = (season.data?.strips ?? []).flatMap(({ stands }) => {
    const current = stands.at(-1);
    return lens === "growth" && current?.plan.sown ? [current.id] : [];
  });
  const growths = useGrowths(farm.id, sown, seen);
  const most = Math.max(
    1,
    ...[...growths.values()].map(({ growth }) => (growth ? mostOf(growth, "middle") : 0)),
  );
  const see = (stand: string | undefined) =>
    stand && setSeen((old) => (old.has(stand) ? old : new Set([...old, stand])));
  const move = useMoveSowing(farm.id);
  const tell = useTell();
  if (season.data === undefined) return <NotYet what="Loading season" of={[season]} />;
  const { strips, next, today } = season.data;
  const scale = timeScale(span, width);
  const pick = (mark: Placed) => {
    if (mark.entry) setReading(mark.entry);
    else if (mark.step) {
      const name = strips.find((strip) => strip.field.id === mark.stand.field)?.field.name ?? "";
      setInking({ field: mark.stand.field, field_name: name, stand: mark.stand.id, step: mark.step });
    }
  };
  // Left on another day it is decided, by the way of timing that was read as it moved.
  const drop = (stand: Schemas["StandView"], on: string, timing: string | undefined) => {
    const before = stand.plan.sown_on;
    move.mutate(
      { stand: stand.id, decided: stand.decided, on, today, timing },
      {
        // Where somebody else has decided since, that is told instead of undone.
        onSuccess: ({ before: back, decided }) =>
          tell(`Sowing moved to ${dayText(on)}.`, {
            text: "Undo",
            act: () => move.mutate({ stand: stand.id, decided, on: before, today, back }),
          }),
      },
    );
  };
  return (
    <Page
      title="Season"
      titleId="season-title"
      tools={
        <>
          {farm.role === "manager" && (
            <Link to="/farms/$farm/start" params={{ farm: farm.id }} className="line-button no-print">
              Start stand
            </Link>
          )}
          <Link to="/farms/$farm/when" params={{ farm: farm.id }} className="line-button no-print">
            Timing
          </Link>
          <Choice
            label="Show"
            value={lens}
            onChange={setLens}
            options={[
              { value: "work", text: "Work" },
              { value: "growth", text: "Growth" },
            ]}
          />
          <SpanControls />
        </>
      }
      aside={<NextList next={next} onInk={setInking} />}
      snug
    >
      <section aria-labelledby="season-title">
        {strips.length === 0 ? (
          <Empty>
            Each field appears here as a strip.{" "}
            <Link to="/farms/$farm/fields" params={{ farm: farm.id }} className="underline">
              Add first field
            </Link>
            .
          </Empty>
        ) : (
          <>
            <div className="sm:pl-50">
              <div ref={ref}>
                <Axis scale={scale} width={width} today={today} />
              </div>
            </div>
            <WeatherBand farm={farm} span={span} scale={scale} width={width} today={today} />
            <ul className="border-t-2 border-ink">
              {strips.map((strip) => (
                <InSight
                  key={strip.field.id}
                  watched={lens === "growth"}
                  onSeen={() => see(strip.stands.at(-1)?.id)}
                  className="border-b border-rule sm:flex"
                >
                  <StripHead strip={strip} farm={farm.id} />
                  {width > 0 && lens === "growth" && (
                    <GrowthStrip
                      {...grownOn(strip, growths)}
                      most={most}
                      scale={scale}
                      width={width}
                      height={stripHeight(strips.length)}
                      today={today}
                    />
                  )}
                  {width > 0 && lens === "work" && (
                    <StripDrawing
                      stands={strip.stands}
                      scale={scale}
                      width={width}
                      height={stripHeight(strips.length)}
                      today={today}
                      onPick={pick}
                      {...(farm.role === "manager" ? { onMove: drop } : {})}
                    />
                  )}
                </InSight>
              ))}
            </ul>
            {move.isError && (
              <div>
                <Trouble error={move.error} at="Moving sowing" />
                {move.error.problem.type === "/problems/overtaken" && move.variables && (
                  <button
                    type="button"
                    className="line-button"
                    onClick={() => move.mutate({ ...move.variables, decided: undefined })}
                  >
                    Move it anyway
                  </button>
                )}
              </div>
            )}
            {lens === "work" ? (
              <Legend strips={strips} span={span} />
            ) : (
              <GrowthLegend growths={growths} most={most} />
            )}
            <Clashes clashes={season.data.clashes} />
          </>
        )}
      </section>
      {inking && <InkSheet farm={farm} step={inking} onDone={() => setInking(null)} />}
      {reading && <EntrySheet farm={farm} entry={reading} onDone={() => setReading(null)} />}
    </Page>
  );
}

function StripHead({ strip, farm }: { strip: Schemas["Strip"]; farm: string }) {
  const current = strip.stands.at(-1);
  const to = { farm, field: strip.field.id };
  return (
    <div className="flex w-50 shrink-0 items-center gap-2 pr-2 max-sm:w-full max-sm:pt-2">
      <FieldShape boundary={strip.field.boundary} size={24} />
      <div className="min-w-0 flex-1 leading-[1.15]">
        <div className="flex items-baseline justify-between gap-2">
          <Link
            to="/farms/$farm/fields/$field"
            params={to}
            className="truncate text-[0.9375rem] leading-[1.2] font-semibold hover:underline"
          >
            {strip.field.name}
          </Link>
          <span className="text-sm leading-[1.2]">
            <Figure quantity={strip.field.sown_area} />
          </span>
        </div>
        {current ? (
          <Tip words={current.cover}>
            <p className="truncate text-sm leading-[1.2] text-pencil">
              {current.cover}
              {current.plan.sown ? "" : ", not yet sown"}
              {current.troubles.length > 0 && ", some figures missing"}
            </p>
          </Tip>
        ) : (
          <Link
            to="/farms/$farm/start"
            params={{ farm }}
            search={{ field: strip.field.id }}
            className="block text-sm leading-[1.2] text-pencil underline decoration-dotted"
          >
            Start stand
          </Link>
        )}
      </div>
    </div>
  );
}

/** What is told of a field's growth: of its stand, or why of none. */
function grownOn(strip: Schemas["Strip"], growths: Growths) {
  const current = strip.stands.at(-1);
  if (!current) return { growth: undefined, untold: "No stand" };
  if (!current.plan.sown) return { growth: undefined, untold: "Not sown yet" };
  return growths.get(current.id) ?? { growth: undefined, untold: undefined };
}

/** The one scale of all strips, and what their signs mean. */
function GrowthLegend({ growths, most }: { growths: Growths; most: number }) {
  const any = [...growths.values()].find(({ growth }) => growth)?.growth;
  if (!any) return null;
  const cut = shown({ value: 0, unit: any.year.unit }).unit;
  return (
    <p className="py-1.5 text-sm text-pencil">
      Green: dry matter above the stubble, solid to today; ahead, 8 in 10 weather years. Full height:{" "}
      {plain({ value: Number(most.toPrecision(2)), unit: any.high.unit })}. Notches: cuts, with their dry
      matter in {cut}; filled ones are recorded.
    </p>
  );
}

function Legend({ strips, span }: { strips: Schemas["Strip"][]; span: Span }) {
  const level = percent(useOddsLevel());
  const manager = useFarm().role === "manager";
  const said = legend(strips, { from: isoDay(span.from), to: isoDay(span.to) }, manager, level);
  return said.length === 0 ? null : (
    <p className="py-1.5 text-sm text-pencil max-sm:hidden">{said.join(" ")}</p>
  );
}
