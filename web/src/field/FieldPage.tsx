import { Link, useParams } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useCrops, useEntries, useField, useGround, useSeason, useStand } from "../api/queries";
import { Axis, timeScale } from "../draw/Axis";
import { FieldShape } from "../draw/FieldShape";
import { StripDrawing, type Placed } from "../draw/Strip";
import { useSpan } from "../draw/span";
import { useWidth } from "../draw/useWidth";
import { FieldGround } from "../ground/FieldGround";
import { oddPlaces } from "../ground/odd";
import { recentWeeds } from "../ground/weeds";
import { useOutbox } from "../outbox/useOutbox";
import type { StepToInk } from "../records/tasks";
import { EntrySheet, InkSheet } from "../records/sheets";
import { SpanControls } from "../season/SpanControls";
import { useFarm } from "../shell/farm";
import { OddsLine } from "../when/OddsLine";
import { CorrectField } from "./CorrectField";
import { FieldWater } from "./FieldWater";
import { Gates } from "./Gates";
import { Headline, OrderTable, Remarks } from "../start/Implied";
import { StepList } from "../start/StepList";
import { StandGrowth } from "./StandGrowth";
import { StandUse } from "./StandUse";
import { Figure } from "../kit/Figure";
import { YoungStand } from "../young/YoungStand";
import { Troubles } from "../kit/Troubles";
import { Page } from "../kit/Page";
import { Tab, TabNames, Tabs } from "../kit/Tabs";
import { Empty, NotYet } from "../kit/states";
import { dayText, yearOf } from "../units/format";
import { goals } from "../units/words";

/** One field's whole story. */
export function FieldPage() {
  const farm = useFarm();
  const { field: id = "" } = useParams({ strict: false });
  const field = useField(farm.id, id);
  const season = useSeason(farm.id);
  if (field.data === undefined || season.data === undefined)
    return <NotYet what="Loading field" of={[field, season]} />;
  const strip = season.data.strips.find((one) => one.field.id === id);
  return <Story key={id} detail={field.data} stands={strip?.stands ?? []} />;
}

function Story({ detail, stands }: { detail: Schemas["FieldDetail"]; stands: Schemas["StandView"][] }) {
  const farm = useFarm();
  const { field, areas } = detail;
  const current = stands.at(-1);
  const [width, ref] = useWidth();
  const { span } = useSpan();
  const scale = timeScale(span, width);
  const [inking, setInking] = useState<StepToInk | null>(null);
  const [reading, setReading] = useState<string | null>(null);
  // A mark is inked on the stand it is drawn for, which need not be the current one.
  const ink = (stand: string, step: Schemas["Step"]) =>
    setInking({ field: field.id, field_name: field.name, stand, step });
  const pick = (mark: Placed) => {
    if (mark.entry) setReading(mark.entry);
    else if (mark.step) ink(mark.stand.id, mark.step);
  };
  const ground = useGround(farm.id, field.id);
  const spots = recentWeeds(ground.data, farm.today).flatMap((weed) => (weed.what.at ? [weed.what.at] : []));
  const may = farm.role !== "adviser";
  const [picked, setSide] = useState<"stand" | "ground" | null>(null);
  const side = picked ?? (current ? "stand" : "ground");
  return (
    <Page
      title={field.name}
      tools={farm.role === "manager" && <CorrectField field={field} />}
      aside={<Inked field={field.id} stands={stands} onRead={setReading} />}
      about={
        <div className="flex flex-wrap gap-x-5">
          <p className="text-ink">
            <Figure
              quantity={field.sown_area}
              explains={areas ?? undefined}
              label="Sown area"
              className="font-semibold"
            />{" "}
            <span className="text-pencil">{areas ? "sowable of" : "sowable (not drawn)"}</span>{" "}
            {areas && <Figure quantity={field.area} explains={areas} label="Area" />}
          </p>
          {field.retired && <p className="font-semibold text-pencil">no longer farmed</p>}
          {current && (
            <p className="text-pencil">
              {current.cover}, {goals[current.goal].toLowerCase()}
              {current.plan.sown && `, sown ${dayText(current.plan.sown_on, yearOf(farm.today))}`}
            </p>
          )}
        </div>
      }
    >
      <div className="flex gap-3 max-sm:flex-col">
        <div className="w-47 shrink-0 pt-1">
          {areas ? (
            <>
              <FieldShape
                boundary={field.boundary}
                inside={detail.inside}
                spots={spots}
                odd={oddPlaces(ground.data)}
                size={176}
                height={140}
              />
              <p className="text-sm text-pencil">
                Setback <Figure quantity={field.setback} /> (dashed)
              </p>
            </>
          ) : (
            <Empty>Not drawn.</Empty>
          )}
        </div>
        <div className="min-w-0 flex-1">
          <SpanControls />
          <div ref={ref}>
            <Axis scale={scale} width={width} today={farm.today} />
            <div className="border-y-2 border-t-ink border-b-rule">
              {width > 0 && (
                <StripDrawing
                  stands={stands}
                  scale={scale}
                  width={width}
                  height={64}
                  today={farm.today}
                  {...(may ? { onPick: pick } : {})}
                />
              )}
            </div>
          </div>
        </div>
      </div>
      <Tabs value={side} onChange={setSide}>
        <div className="pt-2">
          <TabNames
            label="View"
            names={[
              { value: "stand", text: "stand" },
              { value: "ground", text: "ground" },
            ]}
          />
        </div>
        <Tab value="ground">
          {!current && (
            <Link
              to="/farms/$farm/start"
              params={{ farm: farm.id }}
              search={{ field: field.id }}
              className="line-button mb-2"
            >
              Start stand
            </Link>
          )}
          <FieldGround farm={farm} field={field.id} name={field.name} sowOn={current?.plan.sown_on} />
        </Tab>
        <Tab value="stand">
          {current ? (
            <Current
              stand={current}
              name={field.name}
              onInk={may ? (step) => ink(current.id, step) : undefined}
            />
          ) : (
            <div className="pt-4">
              <Empty>
                No stand yet.{" "}
                <Link
                  to="/farms/$farm/start"
                  params={{ farm: farm.id }}
                  search={{ field: field.id }}
                  className="underline"
                >
                  Start stand
                </Link>
                .
              </Empty>
            </div>
          )}
        </Tab>
      </Tabs>
      {inking && <InkSheet farm={farm} step={inking} onDone={() => setInking(null)} />}
      {reading && <EntrySheet farm={farm} entry={reading} onDone={() => setReading(null)} />}
    </Page>
  );
}

function Current({
  stand,
  name: fieldName,
  onInk,
}: {
  stand: Schemas["StandView"];
  name: string;
  onInk: ((step: Schemas["Step"]) => void) | undefined;
}) {
  const farm = useFarm();
  const detail = useStand(farm.id, stand.id);
  const crops = useCrops();
  const name = (id: string) => crops.data?.find((crop) => crop.id === id)?.name ?? id;
  if (detail.data === undefined) return <NotYet what="Working out the plan" of={[detail]} />;
  const { implied } = detail.data;
  return (
    <div className="grid grid-cols-1 gap-x-10 gap-y-6 pt-5 xl:grid-cols-2">
      <StepList
        plan={implied.plan}
        onInk={onInk}
        use={<StandUse farm={farm} stand={stand} name={fieldName} plan={implied.plan} />}
      />
      <div className="space-y-4">
        <Gates
          farm={farm}
          field={stand.field}
          name={fieldName}
          gates={implied.gates}
          plan={implied.plan}
          onInk={onInk}
        />
        {implied.young && (
          <YoungStand
            farm={farm}
            field={stand.field}
            name={fieldName}
            stand={stand.id}
            young={implied.young}
            may={onInk !== undefined}
          />
        )}
        {!implied.young && implied.plan.sown && onInk && (
          <Link
            to="/farms/$farm/count"
            params={{ farm: farm.id }}
            search={{ stand: stand.id }}
            className="line-button no-print"
          >
            Count stand
          </Link>
        )}
        <OddsLine plan={implied.plan}>
          <Link
            to="/farms/$farm/when"
            params={{ farm: farm.id }}
            search={{ stand: stand.id }}
            className="underline"
          >
            Timing
          </Link>
        </OddsLine>
        {implied.plan.sown && <StandGrowth farm={farm} stand={stand.id} />}
        <FieldWater farm={farm} field={stand.field} />
        <Headline implied={implied} />
        {implied.mix && !implied.plan.sown && <OrderTable implied={implied} names={name} />}
        <Remarks implied={implied} />
        <Troubles troubles={implied.troubles} />
        <button type="button" className="line-button no-print" onClick={() => window.print()}>
          Print
        </button>
      </div>
    </div>
  );
}

function Inked({
  field,
  stands,
  onRead,
}: {
  field: string;
  stands: Schemas["StandView"][];
  onRead: (entry: string) => void;
}) {
  const farm = useFarm();
  const entries = useEntries(farm.id, { field });
  const waiting = useOutbox().filter((item) => item.task.field === field);
  const past = stands.slice(0, -1).reverse();
  return (
    <section aria-labelledby="inked-title">
      <h2 id="inked-title" className="flex min-h-11 items-center">
        Recorded
      </h2>
      {waiting.length > 0 && (
        <ul
          aria-label="On this device, waiting to send"
          className="border-l border-dashed border-pencil pb-2 pl-3"
        >
          {waiting.map((item) => (
            <li key={item.id} className="py-1 leading-snug text-pencil">
              <span className="block text-sm">{dayText(item.on, 0)}, on this device</span>
              {item.task.title}
              {item.refused && <span className="text-stop">: to fix</span>}
            </li>
          ))}
        </ul>
      )}
      {entries.data?.total === 0 && <Empty>No records yet.</Empty>}
      <ul className="divide-y divide-rule border-t border-rule">
        {entries.data?.entries.map((entry) => (
          <li key={entry.id} className="py-1.5 leading-snug">
            <button type="button" className="text-left hover:underline" onClick={() => onRead(entry.id)}>
              <span className="block text-sm text-pencil">{dayText(entry.occurred_on, 0)}</span>
              <span className={entry.struck_by ? "struck" : ""}>{entry.says}</span>
            </button>
          </li>
        ))}
      </ul>
      {past.length > 0 && (
        <>
          <h3 className="pt-4">Past stands</h3>
          <ul>
            {past.map((stand) => (
              <li key={stand.id} className="text-sm">
                {stand.cover}, sown {dayText(stand.plan.sown_on, 0)}
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
