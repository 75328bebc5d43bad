import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useEffect, useMemo, useReducer, useRef, useState, type Dispatch } from "react";
import { useForm } from "react-hook-form";
import { v7 as uuid } from "uuid";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { useFields } from "../api/queries";
import { useWidth } from "../draw/useWidth";
import { keepDraft, keptDraft, useDraftName } from "../kit/draft";
import { AmountField, DayOf, Form, TextField } from "../kit/form";
import { Labelled } from "../kit/Labelled";
import { Page } from "../kit/Page";
import { NotYet } from "../kit/states";
import { amount, numberOf, readAmounts, words, written as known } from "../records/amounts";
import { useFarm } from "../shell/farm";
import { wholeDay } from "../units/day";
import { useUnits } from "../units/useUnits";
import { begun, drawn, type Change, type Drawing } from "./drawing";
import { boundaryFrom, middleOf, ringsOf } from "./ground";
import { Paper } from "./Paper";
import {
  areaOf,
  crossings,
  degreesIn,
  distance,
  inside,
  onward,
  planeAround,
  simplified,
  type Spot,
} from "./plane";
import { viewOf, type View } from "./sheet";
import { useGroundUnits } from "./useGroundUnits";
import { useWalk } from "./useWalk";

/** Draw a field, or draw one anew. */
export function DrawPage() {
  const farm = useFarm();
  const fields = useFields(farm.id);
  const { field: id } = useSearch({ strict: false }) as { field?: string };
  if (fields.data === undefined) return <NotYet what="Loading map" of={[fields]} />;
  const field = fields.data.find((one) => one.id === id);
  return <Board key={id ?? ""} field={field} fields={fields.data} />;
}

const HEIGHT = 560;

interface BoardProps {
  field: Schemas["FieldView"] | undefined;
  fields: readonly Schemas["FieldView"][];
}

function Board({ field, fields }: BoardProps) {
  const farm = useFarm();
  const units = useGroundUnits();
  const [width, ref] = useWidth();
  const size = { width, height: HEIGHT };
  const { plane, rings, neighbours } = useMemo(() => {
    const others = fields.filter((one) => one.id !== field?.id && !one.retired);
    const around = field?.boundary ? [field.boundary] : others.map((one) => one.boundary);
    const plane = planeAround(middleOf(around, [farm.longitude, farm.latitude]));
    const neighbours = others.flatMap((one) => {
      return ringsOf(one.boundary, plane).map((ring) => ({ name: one.name, ring }));
    });
    return { plane, rings: ringsOf(field?.boundary, plane), neighbours };
  }, [field, fields, farm]);
  const of = field ? `field.${field.id}` : `farm.${farm.id}`;
  const name = useDraftName(`drawing.${of}`);
  const [drawing, change] = useReducer(drawn, begun(rings), (now) => {
    // As it was left: undone, it is the field as it stands.
    const left = degreesIn(keptDraft(name)).map((ring) => ring.map(plane.flat));
    return left.length > 0 ? drawn(now, { to: "take-over", rings: left }) : now;
  });
  const done = useRef(false);
  useEffect(() => {
    if (done.current) return;
    const { corners, others, before } = drawing;
    keepDraft(name, before.length > 0 ? [corners, ...others].map((ring) => ring.map(plane.degrees)) : null);
  }, [name, drawing, plane]);
  const walk = useWalk(plane, of);
  const first = rings.length > 0 ? rings.flat() : neighbours.flatMap(({ ring }) => ring);
  const [moved, setMoved] = useState<View | null>(null);
  const walking = walk.line;
  const view =
    moved ??
    (walking.length > 0 && drawing.corners.length === 0
      ? { ...viewOf(walking.length > 1 ? walking : [], size), middle: walking.at(-1) ?? { x: 0, y: 0 } }
      : viewOf(first, size));
  const { corners, others } = drawing;
  const crossed = useMemo(() => (corners.length < 400 ? crossings(corners, others) : []), [corners, others]);
  const all = [corners, ...others];
  const around = corners.reduce(
    (sum, corner, at) => sum + distance(corner, corners[(at + 1) % corners.length] ?? corner),
    0,
  );
  const zoom = (by: number) => setMoved({ ...view, scale: view.scale * by });
  return (
    <Page
      title={field ? `Redraw ${field.name}` : "Draw field"}
      about={
        <span role="status" data-corners={corners.length}>
          {corners.length < 3
            ? "Click each corner."
            : `${units.area(areaOf(all))} area, ${units.length(around)} perimeter${others.length > 0 ? " (selected ring)" : ""}`}
        </span>
      }
      tools={
        <>
          <button type="button" className="line-button" onClick={() => zoom(1.5)}>
            Zoom in
          </button>
          <button type="button" className="line-button" onClick={() => zoom(1 / 1.5)}>
            Zoom out
          </button>
          <button
            type="button"
            className="line-button"
            onClick={() => setMoved(viewOf(all.flat().length > 1 ? all.flat() : first, size))}
          >
            Fit field
          </button>
          <button
            type="button"
            className="line-button"
            disabled={drawing.before.length === 0}
            onClick={() => change({ to: "undo" })}
          >
            Undo
          </button>
        </>
      }
      aside={
        <div className="space-y-4">
          {crossed.length > 0 && (
            <p role="alert" className="border-l-3 border-stop px-3 font-semibold text-stop">
              ✕ The boundary crosses itself at the mark. Drag a corner to fix it.
            </p>
          )}
          <Keep
            field={field}
            rings={all}
            plane={plane}
            ready={corners.length >= 3 || (corners.length === 0 && others.length > 0)}
            onKept={() => {
              done.current = true;
              keepDraft(name, null);
            }}
          />
          <Rings drawing={drawing} change={change} />
          <ByCompass corners={corners} picked={drawing.picked} onAdd={(at) => change({ to: "add", at })} />
          <Walking
            walk={walk}
            onDone={() => {
              change({ to: "follow", line: roundOf(walking) });
              walk.stop();
              setMoved(null);
            }}
          />
        </div>
      }
    >
      <div ref={ref} className="border-y border-rule">
        {width > 0 && (
          <Paper
            drawing={drawing}
            change={change}
            view={view}
            onView={setMoved}
            size={size}
            neighbours={neighbours}
            crossed={crossed}
            walked={walking}
          />
        )}
      </div>
      <p className="pt-1 text-sm text-pencil">
        Drag a corner to move it, a hollow mark to add one, or the background to pan. Keyboard: Tab to a
        corner, arrow keys move it {units.length(units.unit.metres)} (Shift: ten times), Delete removes it.
      </p>
    </Page>
  );
}

/** The corners of a walk: those that matter to a metre and a half, the last left out where it is the first again. */
function roundOf(line: readonly Spot[]): Spot[] {
  const corners = simplified(line, 1.5);
  const [first, last] = [corners[0], corners.at(-1)];
  const back = corners.length > 3 && first && last && distance(first, last) < 15;
  return back ? corners.slice(0, -1) : corners;
}

const values = z.object({
  name: words("Enter a field name."),
  setback: amount(),
  on: wholeDay,
});

interface KeepProps {
  field: Schemas["FieldView"] | undefined;
  rings: readonly (readonly Spot[])[];
  plane: ReturnType<typeof planeAround>;
  ready: boolean;
  onKept: () => void;
}

/** What it is called, and that it is so. */
function Keep({ field, rings, plane, ready, onKept }: KeepProps) {
  const farm = useFarm();
  const units = useUnits();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [id] = useState(() => uuid());
  const form = useForm({
    resolver: zodResolver(values),
    defaultValues: {
      name: field?.name ?? "",
      setback: known(field?.boundary ? field.setback : null, units.setback),
      on: farm.today,
    },
  });
  const keep = async (written: z.infer<typeof values>) => {
    const { name, setback, on } = await readAmounts(written);
    const shape = {
      name,
      boundary: boundaryFrom(rings, plane) as unknown as Record<string, unknown>,
      ...(setback ? { setback: setback as Schemas["Length"] } : {}),
    };
    const kept = field
      ? await answered(
          api.PUT("/api/farms/{farm}/fields/{field}", {
            params: { path: { farm: farm.id, field: field.id } },
            body: { id, on, retired: field.retired, after: field.shape ?? null, ...shape },
          }),
        )
      : await answered(
          api.POST("/api/farms/{farm}/fields", {
            params: { path: { farm: farm.id } },
            body: { id, ...shape },
          }),
        );
    onKept();
    await client.invalidateQueries({ queryKey: ["farm", farm.id] });
    void navigate({ to: "/farms/$farm/fields/$field", params: { farm: farm.id, field: kept.id } });
  };
  return (
    <Form form={form} onSubmit={keep} submit={field ? "Save boundary" : "Save field"} disabled={!ready}>
      <TextField name="name" label="Name" />
      <AmountField name="setback" label="Setback" hint="Unsown strip along the whole boundary." />
      {field && <DayOf name="on" label="Effective from" />}
    </Form>
  );
}

/** The rings there are, to take another in hand. */
function Rings({ drawing: { corners, others }, change }: { drawing: Drawing; change: Dispatch<Change> }) {
  const units = useGroundUnits();
  return (
    <section aria-labelledby="rings-title">
      <h2 id="rings-title">Parts and holes</h2>
      <p className="text-sm text-pencil">
        A ring outside the first adds a part; a ring inside it cuts a hole, such as a pond.
      </p>
      <div className="flex flex-wrap gap-x-4">
        {others.map((ring, index) => (
          <button
            key={index}
            type="button"
            className="line-button max-sm:min-h-11"
            onClick={() => change({ to: "hold", ring: index })}
          >
            Edit the {units.area(inside(ring))} ring
          </button>
        ))}
        <button
          type="button"
          className="line-button max-sm:min-h-11"
          disabled={corners.length < 3}
          onClick={() => change({ to: "next" })}
        >
          Add ring
        </button>
      </div>
    </section>
  );
}

interface CompassProps {
  corners: readonly Spot[];
  picked: number | null;
  onAdd: (at: Spot) => void;
}

/** The next corner by a bearing and a length: by hand, or from an old plan. */
function ByCompass({ corners, picked, onAdd }: CompassProps) {
  const { unit } = useGroundUnits();
  const [turn, setTurn] = useState("");
  const [length, setLength] = useState("");
  const from = picked === null ? corners.at(-1) : corners[picked];
  const [angle, metres] = [numberOf(turn), (numberOf(length) ?? NaN) * unit.metres];
  const fits = angle !== null && Number.isFinite(angle) && metres > 0 && metres < 20_000;
  const field = "entry max-sm:min-h-11";
  return (
    <form
      aria-label="By bearing"
      onSubmit={(event) => {
        event.preventDefault();
        if (!from) onAdd({ x: 0, y: 0 });
        else if (fits) onAdd(onward(from, angle, metres));
        setLength("");
      }}
    >
      <h2>By bearing</h2>
      {from && (
        <div className="grid grid-cols-2 gap-x-3">
          <Labelled label="Bearing, °">
            {(ids) => (
              <input
                {...ids}
                className={field}
                inputMode="decimal"
                value={turn}
                onChange={(event) => setTurn(event.target.value)}
              />
            )}
          </Labelled>
          <Labelled label={`Length, ${unit.symbol}`}>
            {(ids) => (
              <input
                {...ids}
                className={field}
                inputMode="decimal"
                value={length}
                onChange={(event) => setLength(event.target.value)}
              />
            )}
          </Labelled>
        </div>
      )}
      <button type="submit" className="line-button mt-1" disabled={from !== undefined && !fits}>
        {from ? "Add corner" : "Start at the center"}
      </button>
    </form>
  );
}

function Walking({
  walk: { walk, line, state, go, pause, stop },
  onDone,
}: {
  walk: ReturnType<typeof useWalk>;
  onDone: () => void;
}) {
  const units = useGroundUnits();
  return (
    <section aria-labelledby="walk-title">
      <h2 id="walk-title">By walking</h2>
      {state === "still" ? (
        <>
          <p className="text-sm text-pencil">Walk the boundary with this device and return to the start.</p>
          <button type="button" className="line-button max-sm:min-h-11" onClick={go}>
            Start walking
          </button>
        </>
      ) : (
        <>
          <p role="status" className="text-sm" data-walked={line.length}>
            {line.length} GPS points
            {walk.accuracy !== null && `, accuracy ${units.length(walk.accuracy)}`}
            {walk.leftOut > 0 && `; ${walk.leftOut} poor fixes dropped`}
            {walk.trouble && <span className="block font-semibold text-stop">✕ {walk.trouble}</span>}
          </p>
          <div className="flex flex-wrap gap-x-4">
            <button
              type="button"
              className="line-button max-sm:min-h-11"
              onClick={state === "walking" ? pause : go}
            >
              {state === "walking" ? "Pause" : "Resume"}
            </button>
            <button
              type="button"
              className="line-button max-sm:min-h-11"
              disabled={line.length < 3}
              onClick={onDone}
            >
              Close boundary
            </button>
            <button type="button" className="line-button max-sm:min-h-11" onClick={stop}>
              Discard walk
            </button>
          </div>
        </>
      )}
    </section>
  );
}
