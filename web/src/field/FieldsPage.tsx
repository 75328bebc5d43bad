import { Link } from "@tanstack/react-router";
import { useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { useFields, useSeason } from "../api/queries";
import { Figure } from "../kit/Figure";
import { Page } from "../kit/Page";
import { Empty, NotYet } from "../kit/states";
import { useFarm } from "../shell/farm";
import { AddField } from "./AddField";
import { FarmMap } from "./FarmMap";

/** The farm's fields where they lie, and by name beside it. */
export function FieldsPage() {
  const farm = useFarm();
  const fields = useFields(farm.id);
  const season = useSeason(farm.id);
  const [adding, setAdding] = useState(false);
  const stands = useMemo(() => {
    const now = (season.data?.strips ?? []).flatMap(({ field, stands }) => {
      const current = stands.at(-1);
      return current ? [[field.id, current.cover] as const] : [];
    });
    return new Map(now);
  }, [season.data]);
  if (fields.data === undefined) return <NotYet what="Loading fields" of={[fields]} />;
  const worked = fields.data.filter((field) => !field.retired);
  const retired = fields.data.filter((field) => field.retired);
  const manager = farm.role === "manager";
  return (
    <Page
      title="Fields"
      tools={
        manager && (
          <>
            <Link to="/farms/$farm/fields/draw" params={{ farm: farm.id }} className="line-button">
              Draw field
            </Link>
            <button type="button" className="line-button" onClick={() => setAdding(true)}>
              Add field
            </button>
            {fields.data.some((field) => field.boundary) && (
              <a
                href={`/api/farms/${farm.id}/fields.geojson`}
                download="fields.geojson"
                className="line-button"
              >
                Export as GeoJSON
              </a>
            )}
          </>
        )
      }
      aside={
        fields.data.length > 0 && (
          <>
            <Names fields={worked} stands={stands} numbered={worked.some((field) => field.boundary)} />
            {retired.length > 0 && (
              <>
                <h2 className="pt-4">No longer farmed</h2>
                <Names fields={retired} stands={stands} />
              </>
            )}
          </>
        )
      }
    >
      {worked.some((field) => field.boundary) ? (
        <FarmMap fields={worked} stands={stands} tallest={620} />
      ) : (
        <Empty>
          {worked.length > 0
            ? "No fields drawn yet. Draw one to see it on the map."
            : "Start with your fields. Draw the first one, or enter its area and draw it later."}
        </Empty>
      )}
      {adding && <AddField onDone={() => setAdding(false)} />}
    </Page>
  );
}

interface NamesProps {
  fields: readonly Schemas["FieldView"][];
  stands: ReadonlyMap<string, string>;
  /** As on the map beside it. */
  numbered?: boolean;
}

function Names({ fields, stands, numbered = false }: NamesProps) {
  const farm = useFarm();
  return (
    <ul className="divide-y divide-rule border-t border-rule">
      {fields.map((field, index) => (
        <li key={field.id} className="py-1.5 leading-snug">
          <span className="flex justify-between gap-3">
            {numbered && (
              <span aria-hidden className="w-5 shrink-0 text-right text-sm text-pencil">
                {index + 1}
              </span>
            )}
            <Link
              to="/farms/$farm/fields/$field"
              params={{ farm: farm.id, field: field.id }}
              className="min-w-0 flex-1 font-semibold hover:underline"
            >
              {field.name}
            </Link>
            <Figure quantity={field.sown_area} />
          </span>
          <span className={`block text-sm text-pencil ${numbered ? "pl-8" : ""}`}>
            {stands.get(field.id) ?? "no stand"}
            {!field.boundary && ", not drawn"}
          </span>
        </li>
      ))}
    </ul>
  );
}
