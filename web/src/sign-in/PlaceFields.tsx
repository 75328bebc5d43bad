import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { useController, useFormContext, useWatch } from "react-hook-form";
import { z } from "zod";
import { answered, api } from "../api/client";
import { TextField } from "../kit/form";
import { Labelled } from "../kit/Labelled";
import { degreesOf, LATITUDE, LONGITUDE, type Halves } from "../units/degrees";
import { placeText } from "../units/format";
import { apart } from "./apart";

/** Where a farm lies, as it is written. */
export const place = {
  latitude: inDegrees(LATITUDE, "Enter degrees, e.g. 42.5, 42.5 S or 42 30 S."),
  longitude: inDegrees(LONGITUDE, "Enter degrees, e.g. -76.5, 76.5 W or 76 30 W."),
  // Typed, or guessed from the place as soon as it is known.
  time_zone: z.string().nullable(),
};

function inDegrees(halves: Halves, question: string) {
  return z
    .string()
    .max(40, "Too long; shorten it.")
    .refine((text) => Number.isFinite(degreesOf(text, halves) ?? NaN), { message: question });
}

export const latitudeOf = (text: string) => degreesOf(text, LATITUDE) ?? Number.NaN;
export const longitudeOf = (text: string) => degreesOf(text, LONGITUDE) ?? Number.NaN;

interface Written {
  latitude: string;
  longitude: string;
  /** The zone as typed; null while nothing was. */
  written: string | null;
}

/** The time zone: as typed, or that of the place while nothing was. */
export function useZone({ latitude, longitude, written }: Written): string {
  const at = { latitude: latitudeOf(latitude), longitude: longitudeOf(longitude) };
  const guess = useQuery({
    queryKey: ["time-zone", at],
    enabled: written === null && Number.isFinite(at.latitude) && Number.isFinite(at.longitude),
    queryFn: () => answered(api.GET("/api/time-zone", { params: { query: at } })),
  });
  return written ?? guess.data?.time_zone ?? "";
}

/** Latitude, longitude, what stands beside them, and the time zone. */
export function PlaceFields({ zone, children }: { zone: string; children: ReactNode }) {
  return (
    <>
      <div className="grid grid-cols-3 gap-4">
        <TextField name="latitude" label="Latitude" hint="e.g. 42.5, or 42 30 S" />
        <TextField name="longitude" label="Longitude" hint="e.g. -76.5, or 76 30 W" />
        {children}
      </div>
      <ReadAs zone={zone} />
      <Here />
      <Zone shown={zone} />
    </>
  );
}

/** A place that is so many hours away from the device is asked about. */
const FAR = 4;

/** Where that is, in words; and a question where it is far from where the device is. */
function ReadAs({ zone }: { zone: string }) {
  const [latitude, longitude] = useWatch({ name: ["latitude", "longitude"] }) as [string, string];
  const at = { latitude: latitudeOf(latitude), longitude: longitudeOf(longitude) };
  if (!Number.isFinite(at.latitude) || !Number.isFinite(at.longitude)) return null;
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  return (
    <p role="status" className="pb-1 text-sm text-pencil">
      {placeText(at)}
      {apart(here, zone) > FAR && (
        <span className="block font-semibold text-ink">
          That is far from this device, which is set to {here}. Check the sign: west and south are negative.
        </span>
      )}
    </p>
  );
}

/** Four decimals are eleven metres: nearer than a farm lies to itself. */
const written = (value: number) => value.toFixed(4);

/** The place of the device, into the fields. */
function Here() {
  const { setValue } = useFormContext<{ latitude: string; longitude: string }>();
  const [told, setTold] = useState<string>();
  if (!("geolocation" in navigator)) return null;
  const take = () => {
    setTold("Locating…");
    navigator.geolocation.getCurrentPosition(
      ({ coords }) => {
        setTold(undefined);
        setValue("latitude", written(coords.latitude), { shouldDirty: true, shouldValidate: true });
        setValue("longitude", written(coords.longitude), { shouldDirty: true, shouldValidate: true });
      },
      () => setTold("Location is not available. Enter latitude and longitude from a map."),
      { enableHighAccuracy: true, timeout: 30_000 },
    );
  };
  return (
    <p className="pb-1 text-sm">
      <button type="button" className="line-button" onClick={take}>
        Use my location
      </button>{" "}
      {told && (
        <span role="status" className="text-pencil">
          {told}
        </span>
      )}
    </p>
  );
}

function Zone({ shown }: { shown: string }) {
  const { field, fieldState } = useController<{ time_zone: string | null }, "time_zone">({
    name: "time_zone",
  });
  return (
    <Labelled
      label="Time zone"
      hint="Set from the location. Change it if it is wrong."
      error={fieldState.error?.message}
    >
      {(ids) => (
        <input
          {...ids}
          className="entry"
          value={shown}
          onChange={(event) => field.onChange(event.target.value)}
        />
      )}
    </Labelled>
  );
}
