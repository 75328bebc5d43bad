import { useCrops, useGround, useLots, useSeason } from "../api/queries";
import { NotYet } from "../kit/states";
import { useFarm } from "../shell/farm";
import type { Quantity } from "../units/format";
import { DepthCheck } from "./DepthCheck";
import { FieldPick } from "./FieldPick";
import { Halfway } from "./Halfway";
import { PlantingSoFar } from "./PlantingSoFar";

interface Props {
  field: string;
  onField: (field: string) => void;
}

/** While it is sown: does the seed lie right, and will it last? */
export function SowingBench({ field, onField }: Props) {
  const farm = useFarm();
  const season = useSeason(farm.id);
  const ground = useGround(farm.id, field);
  const lots = useLots(farm.id);
  const crops = useCrops();
  if (season.data === undefined || (field && ground.data === undefined && !ground.isError))
    return <NotYet what="Loading sowing bench" of={[season]} />;
  const strip = season.data.strips.find((one) => one.field.id === field);
  const own = {
    field,
    name: strip?.field.name ?? "",
    stand: strip?.stands.at(-1),
    may: farm.role !== "adviser",
  };
  const plants = crops.data?.find((one) => one.id === own.stand?.crops[0] && one.planting);
  const lot = lots.data?.find((one) => own.stand?.crops.includes(one.crop) && one.on_hand);
  return (
    <div className="border-t-2 border-ink pt-3">
      <div className="max-w-md">
        <FieldPick value={field} onChange={onField} hint="Fills in what is being sown." />
      </div>
      {plants && own.stand ? (
        <section aria-label="Planting" className="max-w-xl pt-3">
          <PlantingSoFar key={field} {...own} crop={plants.id} />
        </section>
      ) : (
        <div className="grid gap-x-12 gap-y-8 pt-3 lg:grid-cols-2">
          <section aria-label="Seed check">
            <Halfway
              key={field}
              {...own}
              area={(strip?.field.sown_area as Quantity | undefined) ?? null}
              left={lot?.on_hand ?? null}
            />
          </section>
          <section aria-label="Seeding depth">
            <DepthCheck
              key={field}
              {...own}
              texture={ground.data?.ground.facts.texture ?? "loam"}
              crop={own.stand?.crops[0] ?? "alfalfa"}
            />
          </section>
        </div>
      )}
    </div>
  );
}
