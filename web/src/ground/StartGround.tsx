import type { Schemas } from "../api/client";
import { useMaterials } from "../api/queries";
import { PhPathDrawing } from "../draw/PhPath";
import { useGround } from "../api/queries";
import { useFarm } from "../shell/farm";
import type { Change, Draft } from "../start/draft";
import { QuantityField } from "../kit/Quantity";
import { Tick } from "../kit/Tick";
import { useUnits } from "../units/useUnits";
import { LimeAnswer } from "./LimeAnswer";
import { LimeFields, useFirstLime } from "./LimeFields";
import { PotashPick } from "./PotashPick";
import { SchoolTable } from "./SchoolTable";

interface FieldsProps {
  draft: Draft;
  change: Change;
  implied: Schemas["Implied"] | undefined;
  errorAt: (pointer: string) => string | undefined;
}

/** Lime and nutrients among the choices of a stand. */
export function GroundChoices({ draft, change, implied, errorAt }: FieldsProps) {
  const farm = useFarm();
  const units = useUnits();
  const materials = useMaterials(farm.id);
  const methods = implied?.lime_methods ?? [];
  const lime = (materials.data?.lime ?? []).map((one) => one.material);
  const { first, remember } = useFirstLime(methods, implied?.target_ph, lime);
  return (
    <>
      <Tick
        className="font-semibold"
        checked={draft.lime !== null}
        disabled={draft.lime === null && !first}
        onChange={(on) => {
          if (!on) {
            if (draft.lime) remember(draft.lime);
            change({ lime: null });
          } else if (first) change({ lime: first });
        }}
      >
        Plan lime{" "}
        {methods.length === 0 && <span className="font-normal text-pencil">(needs a soil test)</span>}
      </Tick>
      {draft.lime && (
        <LimeFields
          value={draft.lime}
          onChange={(next) => change({ lime: next })}
          methods={methods.length ? methods : [draft.lime.method]}
          materials={lime}
          errorAt={(pointer) => errorAt(`/choices${pointer}`)}
        />
      )}
      <QuantityField
        label="Yield goal per year (dry matter)"
        bare={units.yield}
        value={draft.nutrients?.goal ?? null}
        onChange={(goal) =>
          change((old) => ({
            nutrients: goal
              ? {
                  school: old.nutrients?.school ?? "build-maintain",
                  potash: old.nutrients?.potash ?? null,
                  goal,
                }
              : null,
          }))
        }
        error={errorAt("/choices/nutrients/yield_goal")}
        hint="Used to work out N, P and K by three methods."
      />
      {draft.nutrients && (
        <PotashPick
          value={draft.nutrients.potash}
          onChange={(potash) =>
            change((old) => ({ nutrients: old.nutrients ? { ...old.nutrients, potash } : null }))
          }
        />
      )}
    </>
  );
}

/** What lime and nutrients come to, beside the plan. */
export function GroundImplied({
  draft,
  change,
  implied,
}: Omit<FieldsProps, "errorAt" | "implied"> & { implied: Schemas["Implied"] }) {
  const farm = useFarm();
  const ground = useGround(farm.id, draft.field);
  return (
    <>
      {implied.lime && draft.lime && (
        <section aria-label="Lime">
          <h2 className="pb-1">Lime</h2>
          <LimeAnswer answer={implied.lime} material={draft.lime.material.name} />
        </section>
      )}
      {implied.path && implied.path_from && (draft.lime || draft.nutrients) && (
        <section aria-label="pH path">
          <PhPathDrawing
            path={implied.path.value}
            from={implied.path_from}
            today={farm.today}
            floor={implied.floor ?? null}
            target={draft.lime?.target_ph ?? null}
            tests={(ground.data?.ground.tests ?? []).flatMap((one) =>
              one.what.layers[0] ? [{ on: one.on, ph: one.what.layers[0].ph }] : [],
            )}
            dressings={(ground.data?.ground.dressings ?? [])
              .filter((one) => one.what.what === "lime")
              .map((one) => ({ on: one.on, text: one.what.product }))}
            sowOn={implied.plan.sown_on}
            height={170}
          />
        </section>
      )}
      {implied.needs && (
        <section aria-label="Nutrients">
          <h2 className="pb-1">Nutrients</h2>
          <SchoolTable
            answer={implied.needs}
            chosen={draft.nutrients?.school}
            onChoose={(school) =>
              change((old) => ({ nutrients: old.nutrients ? { ...old.nutrients, school } : null }))
            }
          />
        </section>
      )}
    </>
  );
}
