import { z } from "zod";
import { useShelf } from "../../api/queries";
import { PickOf, TextField } from "../../kit/form";
import { words } from "../amounts";
import { recordForm } from "../form";

const season = z.object({ season: z.number(), text: z.string() });

/** How a stand is used from a season on. */
export default recordForm({
  given: z.object({ seasons: z.array(season).min(1), regime: z.string() }),
  values: z.object({ regime: words("Choose a regime."), season: z.string(), note: words() }),
  day: null,
  begin: ({ given: { seasons, regime } }) => ({ regime, season: String(seasons[0]?.season), note: "" }),
  payload: ({ regime, season, note }) => ({
    kind: "regime",
    regime,
    season: Number(season),
    ...(note.trim() ? { note: note.trim() } : {}),
  }),
  Fields: ({ given: { seasons } }) => {
    const regimes = useShelf().data?.regimes ?? [];
    return (
      <>
        <PickOf
          name="regime"
          label="Regime"
          options={regimes.map(({ key, name }) => ({ value: key, text: name }))}
        />
        <ul className="pb-3 text-sm text-pencil">
          {regimes.map(({ key, name, why }) => (
            <li key={key} className="pb-1">
              <span className="font-semibold text-ink">{name}.</span> {why}
            </li>
          ))}
        </ul>
        <PickOf
          name="season"
          label="First season"
          options={seasons.map(({ season, text }) => ({ value: String(season), text }))}
        />
        <TextField name="note" label="Reason" lines={2} />
      </>
    );
  },
});
