import { useState } from "react";
import { useWorkedFields, useGround } from "../api/queries";
import { Pick } from "../kit/Pick";
import { TaskSheet } from "../kit/Sheet";
import type { Task } from "../outbox/waiting";
import type { Farm } from "../shell/farm";
import { fieldAt } from "../shell/place";
import { usePlace } from "../shell/usePlace";
import { RecordSheet } from "./RecordSheet";
import { siteOf, useFieldKinds } from "./tasks";

interface Props {
  farm: Farm;
  /** The field, where one stands on its page. */
  field?: string | undefined;
  /** What alone is offered, where that is known already. */
  kind?: string | undefined;
  onDone: () => void;
}

/** Which field, which kind, and then its form. Standing in a field, that field is proposed. */
export function RecordAnything({ farm, field: first, kind: only, onDone }: Props) {
  const fields = useWorkedFields(farm.id);
  const kinds = useFieldKinds().filter(({ kind }) => only === undefined || kind === only);
  const place = usePlace();
  const [picked, setPicked] = useState(first ?? "");
  const [task, setTask] = useState<Task | null>(null);
  const around = place && fields.data ? fieldAt(fields.data, place) : undefined;
  const field = picked || around?.id || "";
  const ground = useGround(farm.id, field || undefined);
  const name = fields.data?.find((one) => one.id === field)?.name ?? "";
  if (task) return <RecordSheet task={task} onDone={onDone} />;
  const begin = (kind: string, title: string) =>
    setTask({
      form: kind,
      title,
      where: name,
      field,
      with: kind === "site" ? siteOf(ground.data) : undefined,
    });
  return (
    <TaskSheet open onOpenChange={(open) => !open && onDone()} title="Record">
      <Pick
        className="pt-3"
        label="Field"
        value={field}
        onChange={setPicked}
        empty="choose a field"
        options={(fields.data ?? []).map((one) => ({ value: one.id, text: one.name }))}
        hint={!picked && around ? "You are in this field." : undefined}
      />
      <ul className="divide-y divide-rule border-t-2 border-ink">
        {kinds.map(({ kind, title }) => (
          <li key={kind}>
            <button
              type="button"
              className="min-h-11 w-full px-1 text-left hover:bg-sunk disabled:text-pencil"
              disabled={field === ""}
              onClick={() => begin(kind, title)}
            >
              {title}
            </button>
          </li>
        ))}
        {only === undefined && (
          <li>
            <button
              type="button"
              className="min-h-11 w-full px-1 text-left hover:bg-sunk"
              onClick={() => setTask({ form: "note", title: "Note", where: name, field: field || undefined })}
            >
              Note
            </button>
          </li>
        )}
      </ul>
    </TaskSheet>
  );
}
