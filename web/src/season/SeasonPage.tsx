import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { useOddsLevel, useSeason } from "../api/queries";
import type { Schemas } from "../api/client";
import { Axis, timeScale } from "../draw/Axis";
import { FieldShape } from "../draw/FieldShape";
import { StripDrawing, type Placed } from "../draw/Strip";
import { percent } from "../draw/odds";
import { useSpan, type Span } from "../draw/span";
import { isoDay } from "../units/format";
import { useWidth } from "../draw/useWidth";
import { useFarm } from "../shell/farm";
import { Figure } from "../kit/Figure";
import { Tip } from "../kit/Tip";
import { legend, stripHeight } from "./legend";
import { Empty, NotYet, Trouble } from "../kit/states";
import { Page } from "../kit/Page";
import type { StepToInk } from "../records/tasks";
import { EntrySheet, InkSheet } from "../records/sheets";
import { Clashes } from "./Clashes";
import { NextList } from "./NextList";
import { SpanControls } from "./SpanControls";
import { useMoveSowing } from "./useMoveSowing";
import { WeatherBand } from "./WeatherBand";

export function SeasonPage() {
  const farm = useFarm();
  const season = useSeason(farm.id);
  const { span } = useSpan();
  const [width, ref] = useWidth();
  const [inking, setInking] = useState<StepToInk | null>(null);
  const [reading, setReading] = useState<string | null>(null);
  const move = useMoveSowing(farm.id);
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
  const drop = (stand: Schemas["StandView"], on: string, timing: string | undefined) =>
    move.mutate({ stand: stand.id, decided: stand.decided, on, today, timing });
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
          <SpanControls />
        </>
      }
      aside={<NextList next={next} onInk={setInking} />}
      asideFirst
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
                <li key={strip.field.id} className="border-b border-rule sm:flex">
                  <StripHead strip={strip} farm={farm.id} />
                  {width > 0 && (
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
                </li>
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
            <Legend strips={strips} span={span} />
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

function Legend({ strips, span }: { strips: Schemas["Strip"][]; span: Span }) {
  const level = percent(useOddsLevel());
  const manager = useFarm().role === "manager";
  const said = legend(strips, { from: isoDay(span.from), to: isoDay(span.to) }, manager, level);
  return said.length === 0 ? null : (
    <p className="py-1.5 text-sm text-pencil max-sm:hidden">{said.join(" ")}</p>
  );
}
