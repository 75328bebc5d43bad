import { answered, api, Refused, type Schemas } from "../api/client";
import { useCrops, useMaterials, useReckoning } from "../api/queries";
import { PotashPick } from "../ground/PotashPick";
import { SchoolTable } from "../ground/SchoolTable";
import { useFarm } from "../shell/farm";
import { Figure } from "../kit/Figure";
import { Pick } from "../kit/Pick";
import { Tick } from "../kit/Tick";
import { QuantityField } from "../kit/Quantity";
import { Trouble, Waiting } from "../kit/states";
import { useUnits } from "../units/useUnits";
import { nutrientSchools } from "../units/words";
import { FieldPick } from "./FieldPick";
import { StarterCheck } from "./StarterCheck";
import { amountsOf, useNeeds } from "./needs";

interface Props {
  field: string;
  onField: (field: string) => void;
}

/** The same soil test under three schools, with the cheapest blend and the cost of each. */
export function NutrientBench({ field, onField }: Props) {
  const worked = useNeeds(field);
  const crops = useCrops();
  const units = useUnits();
  const refused = worked.needs.error instanceof Refused ? worked.needs.error : undefined;
  const answer = refused ? undefined : worked.needs.data;
  if (worked.waiting) return <Waiting what="Working out nutrients" />;
  return (
    <div className="grid gap-x-12 gap-y-6 border-t-2 border-ink pt-3 lg:grid-cols-[20rem_minmax(0,1fr)]">
      <form aria-label="Nutrients" onSubmit={(event) => event.preventDefault()}>
        <FieldPick value={field} onChange={onField} />
        <Pick
          label="Crop"
          value={worked.crop}
          onChange={(picked) => picked && worked.change({ picked })}
          options={(crops.data ?? []).map((crop) => ({ value: crop.id, text: crop.name }))}
        />
        <QuantityField
          label="Yield goal per year (dry matter)"
          bare={units.yield}
          value={worked.goal}
          onChange={(goal) => worked.change({ goal })}
          error={refused?.at("/yield_goal")}
        />
        <Tick checked={worked.sowing} onChange={(sowing) => worked.change({ sowing })}>
          Seeding year
        </Tick>
        {!worked.sowing && (
          <PotashPick value={worked.potash} onChange={(potash) => worked.change({ potash })} />
        )}
        <p className="pt-2 text-sm text-pencil">
          {worked.top?.p || worked.top?.k ? (
            <>
              Soil test: P <Figure quantity={worked.top.p?.value} />, K <Figure quantity={worked.top.k} />
            </>
          ) : (
            "No soil test: only crop removal can be worked out."
          )}
        </p>
      </form>
      <div className="min-w-0 space-y-5">
        {refused && <Trouble error={refused} />}
        {answer && (
          <>
            <SchoolTable
              answer={answer}
              cost={(school) => <BlendCost needs={amountsOf(answer.value, school)} school={school} />}
            />
          </>
        )}
        <StarterCheck crop={worked.crop} />
      </div>
    </div>
  );
}

/** The cheapest blend of ordinary products for a school's amounts. */
function BlendCost({
  needs,
  school,
}: {
  needs: Record<string, Schemas["MassPerArea"]>;
  school: Schemas["School"];
}) {
  const farm = useFarm();
  const units = useUnits();
  const materials = useMaterials(farm.id);
  const request = { needs, products: materials.data?.products ?? [] };
  const ready = Object.keys(needs).length > 0 && request.products.length > 0;
  const blend = useReckoning(
    "blend.least_cost",
    [units.system, request],
    (signal) => answered(api.POST("/api/reckon/blend.least_cost", { body: request, signal })),
    ready,
  );
  if (!ready) return <span className="text-pencil">nothing</span>;
  if (!blend.data || blend.error) return null;
  const name = nutrientSchools[school].name.toLowerCase();
  return (
    <>
      <Figure
        quantity={blend.data.value.cost}
        explains={blend.data}
        label={`Cheapest blend for ${name}`}
        className="font-semibold"
      />
      <span className="block text-sm text-pencil">
        {blend.data.value.lines.map((line) => line.name.split(" ")[0]).join(", ")}
      </span>
    </>
  );
}
