import { useMutation } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../api/client";
import { Trouble } from "../kit/states";
import { useFarm } from "../shell/farm";
import { plain, type Quantity } from "../units/format";

/** As a station prints it. */
const tenths = <Q extends Quantity>(shown: Q): Q => ({ ...shown, value: Math.round(shown.value * 10) / 10 });

/** Wind and warmth as the station shows them now, into the fields of a spray. */
export function AirNow({ onAir }: { onAir: (air: Schemas["AirView"]) => void }) {
  const farm = useFarm();
  const ask = useMutation({
    mutationFn: () => answered(api.GET("/api/farms/{farm}/air", { params: { path: { farm: farm.id } } })),
    onSuccess: ({ wind, temperature, ...air }) =>
      onAir({ ...air, wind: tenths(wind), temperature: tenths(temperature) }),
  });
  return (
    <div className="pb-1">
      <button type="button" className="line-button" disabled={ask.isPending} onClick={() => ask.mutate()}>
        Use station wind and temperature
      </button>
      {ask.data && (
        <p data-air className="text-sm text-pencil">
          At {ask.data.at.slice(11, 16)}: {plain(ask.data.wind)} at 2 m, {plain(ask.data.temperature)},
          humidity {plain(ask.data.humidity)}. Conditions over the field may differ.
        </p>
      )}
      {ask.error && <Trouble error={ask.error} />}
    </div>
  );
}
