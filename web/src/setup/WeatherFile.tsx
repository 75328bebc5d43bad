import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useRecord } from "../api/queries";
import { useFarm } from "../shell/farm";
import { ColumnNames, FileText } from "../kit/FileText";
import { useLive } from "../kit/live";
import { optionsOf, Pick } from "../kit/Pick";
import { Tick } from "../kit/Tick";
import { Trouble } from "../kit/states";
import { dayText } from "../units/format";
import { Findings } from "./Findings";

const columns: Record<string, string> = {
  date: "date",
  tmin: "minimum temperature",
  tmax: "maximum temperature",
  rain: "rain",
  radiation: "radiation",
  dew_point: "dew point",
  humidity: "humidity",
  wind: "wind",
};

const units: Record<Schemas["FileUnits"], string> = {
  metric: "°C, mm, m/s",
  us: "°F, inches, mph",
  tenths: "tenths of °C and mm",
};

interface Written {
  name: string;
  text: string;
  unit: Schemas["FileUnits"];
  /** Column and heading: headings have dots, and a dot parts the places of a form. */
  mapped: [string, string][];
  unusual: boolean;
  replace: boolean;
}

/** Read a station's daily file in: look first, then take all of it or nothing. */
export function WeatherFile() {
  const farm = useFarm();
  const [id, setId] = useState(() => uuid());
  const { now, change } = useLive<Written>({
    name: "",
    text: "",
    unit: "metric",
    mapped: [],
    unusual: false,
    replace: false,
  });
  const { name, text, unit, unusual, replace } = now;
  const mapped = Object.fromEntries(now.mapped);
  const [looked, setLooked] = useState<Schemas["WeatherFileView"]>();
  const record = useRecord(farm.id, (dry_run: boolean) => {
    const mapping = { columns: mapped, units: unit, accept_unusual: unusual };
    return answered(
      api.POST("/api/farms/{farm}/weather/files", {
        params: { path: { farm: farm.id } },
        body: { id, file_name: name || "pasted", text, mapping, dry_run, replace },
      }),
    );
  });
  const refused = record.error instanceof Refused ? record.error : undefined;
  const again = (part: Partial<Written>) => {
    change(part);
    setLooked(undefined);
    setId(uuid());
  };
  // Looked at already, it is still another import.
  const replaceThem = (replace: boolean) => {
    change({ replace });
    setId(uuid());
  };
  const take = looked && !looked.stopped && !looked.written;
  return (
    <form
      aria-labelledby="file-title"
      className="space-y-1"
      onSubmit={(event) => {
        event.preventDefault();
        record.mutate(!take, { onSuccess: setLooked });
      }}
    >
      <h2 id="file-title">Import weather file</h2>
      <p className="text-sm text-pencil">
        Daily CSV with date, tmin, tmax, rain and any other columns, or a GHCN-Daily station file unchanged.
        Missing values stay missing.
      </p>
      <FileText
        text={text}
        rows={5}
        error={refused?.at("/text")}
        onText={(read, from) => again({ text: read, ...(from ? { name: from } : {}) })}
      />
      <div className="grid grid-cols-2 gap-x-4">
        <Pick
          label="Units"
          value={unit}
          onChange={(unit) => unit && again({ unit })}
          options={optionsOf(units)}
        />
        <ColumnNames
          columns={columns}
          text={text}
          named={mapped}
          onNamed={(named) => again({ mapped: Object.entries(named) })}
        />
      </div>
      {refused?.at("/mapping") && <Trouble error={new Error(refused.at("/mapping"))} />}
      <Tick checked={unusual} onChange={(unusual) => again({ unusual })}>
        Rain over 300 mm in a day is correct
      </Tick>
      <Tick checked={replace} onChange={replaceThem}>
        Replace existing days that differ
      </Tick>
      {refused && !refused.problem.errors?.length && <Trouble error={refused} />}
      {looked && (
        <div role="status" className="border-l-3 border-pencil pl-3">
          {looked.written ? (
            <p className="font-semibold">Imported: {looked.new_days} days added.</p>
          ) : looked.stopped ? (
            <p className="font-semibold text-stop">✕ Not imported. Fix or confirm the problems below.</p>
          ) : (
            <p className="font-semibold">
              {looked.days} days
              {looked.from && looked.to && `, ${dayText(looked.from, 0)} to ${dayText(looked.to, 0)}`}:{" "}
              {looked.new_days} new, {looked.different_days} differ from existing values.
            </p>
          )}
          <Findings findings={looked.findings} inAll={looked.findings_in_all} />
        </div>
      )}
      <button type="submit" className="ink-button mt-2" disabled={record.isPending || text.trim() === ""}>
        {record.isPending ? "Reading…" : take ? "Import file" : "Preview"}
      </button>
    </form>
  );
}
