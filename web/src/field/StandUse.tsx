import { useState } from "react";
import type { Schemas } from "../api/client";
import { RecordSheet } from "../records/RecordSheet";
import type { Farm } from "../shell/farm";
import { seasonWord } from "../units/words";

interface Props {
  farm: Farm;
  stand: Schemas["StandView"];
  /** The field it stands on. */
  name: string;
  plan: Schemas["Plan"];
}

/** What a stand is used for, season by season, and a way to change it from a season on. */
export function StandUse({ farm, stand, name, plan }: Props) {
  const [changing, setChanging] = useState(false);
  const [now, next] = plan.seasons;
  if (!now) return null;
  const word = (one: Schemas["SeasonUse"]) => seasonWord(one.season, one.begins);
  const changes = next && next.regime !== now.regime;
  return (
    <div className="flex flex-wrap items-baseline gap-x-4 pb-1" data-use={now.regime ?? ""}>
      <p>
        <span className="text-pencil">Regime: </span>
        {now.name ?? "not chosen, so no cuts are planned"}
        {changes && `; from ${word(next)}, ${next.name?.toLowerCase() ?? "none"}`}
      </p>
      {farm.role === "manager" && (
        <button type="button" className="line-button no-print" onClick={() => setChanging(true)}>
          {now.regime ? "Change regime" : "Choose regime"}
        </button>
      )}
      {changing && (
        <RecordSheet
          task={{
            form: "regime",
            title: "Regime",
            where: name,
            field: stand.field,
            stand: stand.id,
            with: {
              regime: now.regime ?? "",
              seasons: plan.seasons.map((one) => ({ season: one.season, text: word(one) })),
            },
          }}
          onDone={() => setChanging(false)}
        />
      )}
    </div>
  );
}
