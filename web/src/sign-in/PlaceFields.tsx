import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { useController, useFormContext } from "react-hook-form";
import { z } from "zod";
import { answered, api } from "../api/client";
import { NumberField } from "../kit/form";
import { Labelled } from "../kit/Labelled";
import { figure, numberOf } from "../records/amounts";

/** Where a farm lies, as it is written. */
export const place = {
  latitude: figure("Enter degrees."),
  longitude: figure("Enter degrees."),
  // Typed, or guessed from the place as soon as it is known.
  time_zone: z.string().nullable(),
};

export const degrees = (text: string) => numberOf(text.replace("−", "-")) ?? Number.NaN;

interface Written {
  latitude: string;
  longitude: string;
  /** The zone as typed; null while nothing was. */
  written: string | null;
}

/** The time zone: as typed, or that of the place while nothing was. */
export function useZone({ latitude, longitude, written }: Written): string {
  const at = { latitude: degrees(latitude), longitude: degrees(longitude) };
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
        <NumberField name="latitude" label="Latitude" hint="Degrees; south is negative." />
        <NumberField name="longitude" label="Longitude" hint="Degrees; west is negative." />
        {children}
      </div>
      <Here />
      <Zone shown={zone} />
    </>
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
