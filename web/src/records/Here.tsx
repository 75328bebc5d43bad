import { useFormContext, useWatch } from "react-hook-form";
import { z } from "zod";
import { Tick } from "../kit/Tick";
import { usePlace } from "../shell/usePlace";

/** A place on the ground, where it was told. */
export const spot = z.object({ longitude: z.number(), latitude: z.number() }).nullable();

/** Where the device is, kept with what was seen: offered only where the device tells. */
export function Here() {
  const place = usePlace();
  const { setValue } = useFormContext();
  const at = useWatch({ name: "at" }) as object | null;
  if (!place) return null;
  const { longitude, latitude } = place;
  return (
    <Tick
      checked={at !== null}
      onChange={(here) => setValue("at", here ? { longitude, latitude } : null, { shouldDirty: true })}
    >
      Use my location
    </Tick>
  );
}
