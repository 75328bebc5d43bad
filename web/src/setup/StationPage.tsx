import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { useRecord, useWeather, useWeatherFiles } from "../api/queries";
import { percent } from "../draw/odds";
import { useFarm } from "../shell/farm";
import { AmountField, Form, TextField } from "../kit/form";
import { Page } from "../kit/Page";
import { Empty, NotYet, Trouble } from "../kit/states";
import { amount, readAmounts, words, written } from "../records/amounts";
import { latitudeOf, place } from "../sign-in/PlaceFields";
import { dayText, plain, shareOf } from "../units/format";
import { useUnits } from "../units/useUnits";
import { Findings } from "./Findings";
import { UsualWeather } from "./UsualWeather";
import { WeatherFile } from "./WeatherFile";

/** The station, its record, and the files that were read in. */
export function StationPage() {
  const farm = useFarm();
  const weather = useWeather(farm.id, farm.today, farm.today);
  if (weather.data === undefined) return <NotYet what="Loading weather" of={[weather]} />;
  const { station, frost, weather_service } = weather.data;
  const manager = farm.role === "manager";
  return (
    <Page title="Weather">
      <div className="grid gap-x-12 gap-y-6 lg:grid-cols-2">
        <div className="space-y-5">
          {station ? (
            <Record station={station} />
          ) : (
            <Empty>
              Odds come from years of weather. Enter average weather to start at once, or set up a station and
              import its daily records. National weather services publish open daily records: get the daily
              file of the nearest station with minimum and maximum temperature and rain, thirty years if
              possible.
            </Empty>
          )}
          {manager && !station?.first && <UsualWeather kept={weather.data.usual} />}
          {frost.length > 0 && <Frost dates={frost} made={weather.data.basis === "normals"} />}
          {station && station.first && frost.length === 0 && (
            <p>This station has no frost, so nothing is timed by frost.</p>
          )}
        </div>
        <div className="space-y-5">
          {manager && (
            <StationForm key={station?.version} station={station ?? null} service={weather_service} />
          )}
          {manager && station && <WeatherFile />}
          <Files />
        </div>
      </div>
    </Page>
  );
}

function Record({ station }: { station: Schemas["StationView"] }) {
  const farm = useFarm();
  const ask = useRecord(farm.id, () =>
    answered(api.POST("/api/farms/{farm}/station/ask", { params: { path: { farm: farm.id } } })),
  );
  return (
    <section aria-label="Record">
      <p className="text-lg">
        <strong>{station.name}</strong>{" "}
        <span className="text-pencil">
          {Math.abs(station.latitude).toFixed(2)}° {station.latitude < 0 ? "south" : "north"},{" "}
          {plain(station.elevation)}
        </span>
      </p>
      {station.first && station.last ? (
        <p>
          Daily records {dayText(station.first, 0)} to {dayText(station.last, 0)},{" "}
          {station.gaps === 0 ? "none missing" : `${station.gaps} with missing data`}.
        </p>
      ) : (
        <p>No records yet.</p>
      )}
      {station.days_behind > 0 && (
        <p role="status" className="font-semibold text-stop">
          ✕ Weather is {station.days_behind} days out of date
          {station.trouble ? `: ${station.trouble}` : ""}. Odds still work: the last forecast, then past
          years, fill in the missing days.
        </p>
      )}
      {station.code && (
        <p className="text-sm text-pencil">
          {station.heard_on && `Last update ${dayText(station.heard_on, 0)}. `}
          {station.forecast_from && `Forecast from ${dayText(station.forecast_from, 0)}. `}
          {farm.role !== "adviser" && (
            <button
              type="button"
              className="line-button"
              disabled={ask.isPending}
              onClick={() => ask.mutate(undefined)}
            >
              {ask.isPending ? "Updating…" : "Update now"}
            </button>
          )}
        </p>
      )}
      {ask.isError && <Trouble error={ask.error} />}
      {station.first && (
        <a href={`/api/farms/${farm.id}/weather/record.csv`} download="weather.csv" className="line-button">
          Export CSV
        </a>
      )}
    </section>
  );
}

interface StationFormProps {
  station: Schemas["StationView"] | null;
  /** A weather service can be asked. */
  service: boolean;
}

const values = z.object({
  name: words("Enter a name."),
  latitude: place.latitude,
  elevation: amount("Enter the elevation."),
  code: words(),
});

function StationForm({ station, service }: StationFormProps) {
  const farm = useFarm();
  const units = useUnits();
  const client = useQueryClient();
  const form = useForm({
    resolver: zodResolver(values),
    defaultValues: {
      name: station?.name ?? "",
      latitude: String(station?.latitude ?? farm.latitude),
      elevation: written(station?.elevation ?? { value: 0, unit: units.elevation }, units.elevation),
      code: station?.code ?? "",
    },
  });
  const correct = async (words: z.infer<typeof values>) => {
    const { name, latitude, elevation, code } = await readAmounts(words);
    await answered(
      api.PUT("/api/farms/{farm}/station", {
        params: { path: { farm: farm.id } },
        body: {
          name,
          latitude: latitudeOf(latitude),
          elevation: elevation as Schemas["Length"],
          code: code.trim() || null,
          after: station?.version ?? null,
        },
      }),
    );
    void client.invalidateQueries({ queryKey: ["farm", farm.id] });
  };
  return (
    <Form
      form={form}
      onSubmit={correct}
      submit={station ? "Save station" : "Add station"}
      label="Station"
      className="border-t-2 border-ink pt-2"
    >
      <div className="grid gap-x-4 sm:grid-cols-3">
        <TextField name="name" label="Name" />
        <TextField name="latitude" label="Latitude" hint="e.g. 42.5, or 42 30 S" />
        <AmountField name="elevation" label="Elevation" />
        {(service || station?.code) && (
          <TextField
            name="code"
            label="Station code at the service"
            hint="Leave blank to use imported files only."
          />
        )}
      </div>
    </Form>
  );
}

function Frost({ dates, made }: { dates: Schemas["FrostDates"][]; made: boolean }) {
  const head = "pl-3 text-right align-bottom text-sm font-normal text-pencil";
  return (
    <section aria-labelledby="frost-title">
      <h2 id="frost-title">Frost dates from {made ? "generated years" : `${dates[0]?.summers} summers`}</h2>
      <table className="w-full">
        <thead>
          <tr>
            <th
              rowSpan={2}
              scope="col"
              className="pb-1 text-left align-bottom text-sm font-normal text-pencil"
            >
              Air temperature (screen)
            </th>
            <th rowSpan={2} scope="col" className={`${head} pb-1`}>
              Years with frost
            </th>
            <th colSpan={2} scope="colgroup" className={head}>
              Last spring frost, by
            </th>
            <th colSpan={2} scope="colgroup" className={head}>
              First autumn frost, by
            </th>
          </tr>
          <tr className="border-b border-ink">
            {["50%", "90%", "10%", "50%"].map((share, index) => (
              <th key={index} scope="col" className={`${head} pb-1`}>
                {share}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {dates.map((one) => (
            <tr key={one.threshold.value} className="border-b border-rule">
              <td className="py-1 font-semibold">{plain(one.threshold)}</td>
              <td className="py-1 text-right">{percent(shareOf(one.share_with_frost))}</td>
              {[
                one.last_in_spring[1],
                one.last_in_spring[2],
                one.first_in_autumn[0],
                one.first_in_autumn[1],
              ].map((date, index) => (
                <td key={index} className="py-1 pl-2 text-right whitespace-nowrap">
                  {date ? dayText(date) : "–"}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="pt-1 text-sm text-pencil">
        {dates.some((one) => shareOf(one.share_with_frost) < 0.5) && "–: too few years have it. "}
        Grass level and hollows are 1–3 °C (2–5 °F) colder than the screen.
      </p>
    </section>
  );
}

function Files() {
  const farm = useFarm();
  const files = useWeatherFiles(farm.id);
  if (!files.data || files.data.length === 0) return null;
  return (
    <section aria-labelledby="files-title">
      <h2 id="files-title">Imported files</h2>
      <ul className="divide-y divide-rule border-t border-rule">
        {files.data.map((file) => (
          <li key={file.id} className="py-1.5">
            <strong>{file.file_name}</strong>{" "}
            <span className="text-pencil">
              by {file.by}: {file.added} days added, {file.replaced} replaced
            </span>
            <Findings findings={file.findings} inAll={file.findings_in_all} />
          </li>
        ))}
      </ul>
    </section>
  );
}
