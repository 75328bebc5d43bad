import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { useCrops, useStand } from "../api/queries";
import { NotYet } from "../kit/states";
import { Troubles } from "../kit/Troubles";
import { useFarm } from "../shell/farm";
import { Headline, OrderTable, Remarks } from "../start/Implied";
import { Assumed, MakingSteps, SeasonSteps, Undated } from "../start/StepList";
import { OddsLine } from "../when/OddsLine";
import { YoungStand } from "../young/YoungStand";
import { FieldWater } from "./FieldWater";
import { Gates } from "./Gates";
import { roomsOf, wordOfUse, type Room } from "./rooms";
import { StandGrowth } from "./StandGrowth";
import { StandUse } from "./StandUse";

interface Props {
  room: Extract<Room, "plan" | "young" | "use">;
  stand: Schemas["StandView"];
  /** The field's. */
  name: string;
  /** How a step is inked; nothing for who may not. */
  onInk: ((step: Schemas["Step"]) => void) | undefined;
}

/** One phase of the stand on a field: its steps at the left, what they turn on at the right. */
export function StandRoom({ room, stand, name, onInk }: Props) {
  const farm = useFarm();
  const detail = useStand(farm.id, stand.id);
  if (detail.data === undefined) return <NotYet what="Working out the plan" of={[detail]} />;
  const { implied } = detail.data;
  const { plan } = implied;
  const young = implied.young && (
    <YoungStand
      farm={farm}
      field={stand.field}
      name={name}
      stand={stand.id}
      young={implied.young}
      may={onInk !== undefined}
    />
  );
  const making = room !== "use";
  return (
    <div className="grid grid-cols-1 gap-x-10 gap-y-6 pt-5 xl:grid-cols-2">
      {making ? (
        <section aria-label="Plan">
          <h2>{plan.sown ? "Establishment" : "Plan"}</h2>
          <Undated plan={plan} />
          <MakingSteps plan={plan} onInk={onInk} />
          <Assumed plan={plan} />
        </section>
      ) : (
        <section aria-label="Plan">
          <h2>{wordOfUse(stand.goal)}</h2>
          <StandUse farm={farm} stand={stand} name={name} plan={plan} />
          <Undated plan={plan} />
          <SeasonSteps plan={plan} onInk={onInk} />
        </section>
      )}
      <div className="space-y-4">
        {making ? (
          <>
            <Gates
              farm={farm}
              field={stand.field}
              name={name}
              gates={implied.gates}
              plan={plan}
              onInk={onInk}
            />
            {young}
            <OddsLine plan={plan}>
              <Link
                to="/farms/$farm/when"
                params={{ farm: farm.id }}
                search={{ stand: stand.id }}
                className="underline"
              >
                Timing
              </Link>
            </OddsLine>
          </>
        ) : (
          plan.sown && <StandGrowth farm={farm} stand={stand.id} />
        )}
        <FieldWater farm={farm} field={stand.field} />
        {making ? <Seed implied={implied} /> : roomsOf(stand).first === "use" && young}
        {!implied.young && plan.sown && onInk && (
          <Link
            to="/farms/$farm/count"
            params={{ farm: farm.id }}
            search={{ stand: stand.id }}
            className="line-button no-print"
          >
            Count stand
          </Link>
        )}
        <Troubles troubles={implied.troubles} />
        <button type="button" className="line-button no-print" onClick={() => window.print()}>
          Print
        </button>
      </div>
    </div>
  );
}

/** The seed: how much is sown, and until then what is ordered. */
function Seed({ implied }: { implied: Schemas["Implied"] }) {
  const crops = useCrops();
  const name = (id: string) => crops.data?.find((crop) => crop.id === id)?.name ?? id;
  return (
    <>
      <Headline implied={implied} />
      {implied.mix && !implied.plan.sown && <OrderTable implied={implied} names={name} />}
      <Remarks implied={implied} />
    </>
  );
}
