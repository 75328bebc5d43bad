import { Link } from "@tanstack/react-router";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, Refused, type Schemas } from "../api/client";
import { useFields, useRecord } from "../api/queries";
import { FieldShape } from "../draw/FieldShape";
import { useFarm } from "../shell/farm";
import { Figure } from "../ui/Figure";
import { Labelled } from "../ui/Labelled";
import { QuantityField } from "../ui/QuantityField";
import { TaskSheet } from "../ui/Sheet";
import { Empty, Trouble, Waiting } from "../ui/states";
import type { Quantity } from "../units/format";
import { useUnits } from "../units/useUnits";

/** The farm's fields, as outlines. */
export function FieldsPage() {
  const farm = useFarm();
  const fields = useFields(farm.id);
  const [adding, setAdding] = useState(false);
  if (fields.isPending) return <Waiting what="Looking over the fields" />;
  if (fields.isError) return <Trouble error={fields.error} />;
  return (
    <div className="mx-auto max-w-6xl px-5 py-3">
      <div className="flex items-baseline justify-between pb-3">
        <h1>Fields</h1>
        {farm.role === "manager" && (
          <button type="button" className="line-button" onClick={() => setAdding(true)}>
            Add a field
          </button>
        )}
      </div>
      {fields.data.length === 0 && (
        <Empty>Fields are drawn here from their boundaries. Add the first one from a GeoJSON file.</Empty>
      )}
      <ul className="grid grid-cols-2 gap-x-8 gap-y-5 sm:grid-cols-3 lg:grid-cols-5">
        {fields.data.map((field) => (
          <li key={field.id}>
            <Link
              to="/farms/$farm/fields/$field"
              params={{ farm: farm.id, field: field.id }}
              className="block hover:underline"
            >
              <FieldShape boundary={field.boundary} size={150} height={104} />
              <span className="block font-semibold">{field.name}</span>
            </Link>
            <span className="text-sm text-pencil">
              <Figure quantity={field.sown_area} /> to sow of <Figure quantity={field.area} />
            </span>
          </li>
        ))}
      </ul>
      {adding && <AddField onDone={() => setAdding(false)} />}
    </div>
  );
}

function AddField({ onDone }: { onDone: () => void }) {
  const farm = useFarm();
  const units = useUnits();
  const [id] = useState(() => uuid());
  const [name, setName] = useState("");
  const [text, setText] = useState("");
  const [setback, setSetback] = useState<Quantity | null>(null);
  const [unreadable, setUnreadable] = useState<string>();
  const record = useRecord(farm.id, (boundary: Record<string, unknown>) =>
    answered(
      api.POST("/api/farms/{farm}/fields", {
        params: { path: { farm: farm.id } },
        body: { id, name, boundary, ...(setback ? { setback: setback as Schemas["Length"] } : {}) },
      }),
    ),
  );
  const refused = record.error instanceof Refused ? record.error : undefined;
  const submit = (event: React.FormEvent) => {
    event.preventDefault();
    let boundary: Record<string, unknown>;
    try {
      boundary = JSON.parse(text) as Record<string, unknown>;
      setUnreadable(undefined);
    } catch {
      setUnreadable("this is not GeoJSON: choose a file, or paste what it holds");
      return;
    }
    record.mutate(boundary, { onSuccess: onDone });
  };
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title="Add a field"
      about="A boundary is one GeoJSON polygon: longitude first, then latitude."
    >
      <form className="mt-3 space-y-1" onSubmit={submit}>
        <Labelled label="Name" error={refused?.at("/name")}>
          {(ids) => (
            <input
              {...ids}
              className="entry"
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          )}
        </Labelled>
        <Labelled label="Boundary from a file">
          {(ids) => (
            <input
              {...ids}
              type="file"
              accept=".geojson,.json,application/geo+json"
              className="entry text-sm"
              onChange={(event) => void event.target.files?.[0]?.text().then(setText)}
            />
          )}
        </Labelled>
        <Labelled label="Boundary" error={unreadable ?? refused?.at("/boundary")}>
          {(ids) => (
            <textarea
              {...ids}
              rows={5}
              className="entry font-mono text-sm"
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
          )}
        </Labelled>
        <QuantityField
          label="Setback"
          bare={units.setback}
          value={setback}
          onChange={setSetback}
          error={refused?.at("/setback")}
          hint="kept unsown along the whole boundary"
        />
        {refused && !refused.problem.errors?.length && <Trouble error={refused} />}
        <button type="submit" className="ink-button mt-2" disabled={record.isPending}>
          Add it
        </button>
      </form>
    </TaskSheet>
  );
}
