import { useEffect, useMemo, useState } from "react";
import { useFormContext, useWatch } from "react-hook-form";
import { useField, useMachines } from "../api/queries";
import { middleOf } from "../field/ground";
import { crossings, inside, planeAround } from "../field/plane";
import { useWalk } from "../field/useWalk";
import { AmountField, SeenOf } from "../kit/form";
import { NumberBox } from "../kit/NumberBox";
import { optionsOf } from "../kit/Pick";
import type { Farm } from "../shell/farm";
import { turned } from "../units/base";
import { plain, typed, type Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";
import { sownAreas } from "../units/words";
import { numberOf } from "./amounts";

interface Props {
  farm: Farm;
  field: string;
}

/** How much ground was sown, and how that is known: all of the field, walked around, or by the hours it took. */
export function SownArea({ farm, field }: Props) {
  const by = String(useWatch({ name: "area_by" }) ?? "");
  return (
    <>
      <AmountField name="area" label="Area sown" />
      <SeenOf name="area_by" label="Area from" options={optionsOf(sownAreas)} />
      {by === "boundary" && <Whole farm={farm} field={field} />}
      {by === "walked" && <Walked farm={farm} field={field} />}
      {by === "hours" && <ByHours farm={farm} />}
    </>
  );
}

/** Put an area into the form, in the reader's unit and to what can be told of it. */
function useTaken() {
  const { setValue } = useFormContext();
  const units = useUnits();
  return (area: Quantity) => {
    const told = turned(area, units.area);
    told.value = Number(told.value.toPrecision(4));
    setValue("area", { text: typed(told), bare: units.area }, { shouldDirty: true });
  };
}

function Whole({ farm, field }: Props) {
  const area = useField(farm.id, field).data?.field.sown_area as Quantity | undefined;
  const take = useTaken();
  if (!area) return null;
  return (
    <button type="button" className="line-button" data-whole onClick={() => take(area)}>
      Whole sown area: {plain(area)}
    </button>
  );
}

function Walked({ farm, field }: Props) {
  const boundary = useField(farm.id, field).data?.field.boundary;
  const plane = useMemo(
    () => planeAround(middleOf(boundary ? [boundary] : [], [farm.longitude, farm.latitude])),
    [boundary, farm],
  );
  const { state, walk, line, go, pause, stop } = useWalk(plane, `sown.${field}`);
  const take = useTaken();
  const area = { value: inside(line), unit: "m2" };
  const crossed = line.length < 400 && crossings(line).length > 0;
  return (
    <div className="pb-3">
      <p className="flex flex-wrap gap-x-4">
        <button type="button" className="line-button" onClick={state === "walking" ? pause : go}>
          {state === "walking" ? "Pause" : state === "paused" ? "Resume" : "Start at the edge"}
        </button>
        {line.length >= 3 && (
          <button type="button" className="line-button" onClick={() => (pause(), take(area))}>
            Close boundary
          </button>
        )}
        {state === "paused" && (
          <button type="button" className="line-button" onClick={stop}>
            Clear form
          </button>
        )}
      </p>
      <p role="status" className="text-sm text-pencil" data-walked={line.length}>
        {state !== "still" && `${line.length} ${line.length === 1 ? "place" : "places"}`}
        {walk.leftOut > 0 && `; ${walk.leftOut} poor fixes dropped`}
        {walk.trouble && <span className="block font-semibold text-stop">✕ {walk.trouble}</span>}
        {crossed && (
          <span className="block font-semibold text-stop">
            ✕ The track crosses itself, so it has no area. Walk it again.
          </span>
        )}
      </p>
    </div>
  );
}

/** What a drill of the farm does in an hour, times the hours. */
function ByHours({ farm }: { farm: Farm }) {
  const machines = useMachines(farm.id).data?.machines ?? [];
  const drill = machines.find(
    ({ facts, capacity }) =>
      capacity && !facts.gone && (facts.machine === "drill" || facts.machine === "spreader"),
  );
  const [text, setText] = useState("");
  const take = useTaken();
  const hours = numberOf(text);
  const pace = drill?.capacity as Quantity | undefined;
  const known = pace !== undefined && hours !== null && Number.isFinite(hours) && hours > 0;
  const done = known ? hours * pace.value : null;
  const unit = pace?.unit.split("/")[0];
  useEffect(() => {
    if (done !== null && unit) take({ value: done, unit });
    // Only what was written changes it: what stands in the form may be corrected.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [done, unit]);
  if (!pace)
    return (
      <p className="text-sm text-pencil">Add a drill or spreader with its width under Set-up, Machines.</p>
    );
  return (
    <NumberBox
      label="Hours worked"
      value={text}
      onChange={setText}
      hint={`${drill?.facts.name}: ${plain(pace)}`}
    />
  );
}
