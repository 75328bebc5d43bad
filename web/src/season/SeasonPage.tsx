import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { useOddsLevel, useSeason } from "../api/queries";
import type { Schemas } from "../api/client";
import { Axis, timeScale } from "../draw/Axis";
import { FieldShape } from "../draw/FieldShape";
import { StripDrawing, type Placed } from "../draw/Strip";
import { percent } from "../draw/odds";
import { useSpan } from "../draw/span";
import { useWidth } from "../draw/useWidth";
import { EntrySheet } from "../ledger/EntrySheet";
import { useFarm } from "../shell/farm";
import { Figure } from "../ui/Figure";
import { Empty, Trouble, Waiting } from "../ui/states";
import { InkSheet, type StepToInk } from "./InkSheet";
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
  if (season.isPending) return <Waiting what="Drawing the season" />;
  if (season.isError) return <Trouble error={season.error} />;
  const { strips, next, today } = season.data;
  const scale = timeScale(span, width);
  const pick = (mark: Placed) => {
    if (mark.entry) setReading(mark.entry);
    else if (mark.step) setInking({ field: mark.stand.field, stand: mark.stand.id, step: mark.step });
  };
  // Left on another day it is decided, by the way of timing that was read as it moved.
  const drop = (stand: Schemas["StandView"], on: string, timing: string | undefined) =>
    move.mutate({ stand: stand.id, decided: stand.decided, on, today, timing });
  return (
    <div className="flex gap-6 px-5 pt-2 max-lg:flex-col-reverse lg:min-h-0">
      <section aria-labelledby="season-title" className="min-w-0 flex-1">
        <div className="flex flex-wrap items-center justify-between gap-x-6">
          <h1 id="season-title">Season</h1>
          <SpanControls />
        </div>
        {strips.length === 0 ? (
          <Empty>
            Each field is a strip here.{" "}
            <Link to="/farms/$farm/fields" params={{ farm: farm.id }} className="underline">
              Add the first field
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
                      height={37}
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
                <Trouble error={move.error} at="Moving the sowing" />
                {move.error.problem.type === "/problems/overtaken" && move.variables && (
                  <button
                    type="button"
                    className="line-button"
                    onClick={() => move.mutate({ ...move.variables, decided: undefined })}
                  >
                    Move it all the same, in what was decided since
                  </button>
                )}
              </div>
            )}
            <Legend />
          </>
        )}
      </section>
      <NextList next={next} onInk={setInking} />
      {inking && <InkSheet farm={farm} step={inking} onDone={() => setInking(null)} />}
      {reading && <EntrySheet farm={farm} entry={reading} onDone={() => setReading(null)} />}
    </div>
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
          <p className="truncate text-sm leading-[1.2] text-pencil" title={current.cover}>
            {current.cover}
            {current.plan.sown ? "" : ", to sow"}
            {current.troubles.length > 0 && ", something can’t be reckoned"}
          </p>
        ) : (
          <Link
            to="/farms/$farm/start"
            params={{ farm }}
            search={{ field: strip.field.id }}
            className="block text-sm leading-[1.2] text-pencil underline decoration-dotted"
          >
            start a stand
          </Link>
        )}
      </div>
    </div>
  );
}

function Legend() {
  const level = percent(useOddsLevel());
  return (
    <p className="py-1.5 text-sm text-pencil max-sm:hidden">
      Grey is pencil, dark is ink. Blades: when sowing works, taller and closer where likelier, underlined
      from {level} up; drag a sowing along them.
    </p>
  );
}
