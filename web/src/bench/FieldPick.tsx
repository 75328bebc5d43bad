import { useWorkedFields } from "../api/queries";
import { Pick } from "../kit/Pick";
import { useFarm } from "../shell/farm";

/** The field a bench is filled from. */
export function FieldPick({
  value,
  onChange,
  hint = "Fills in the latest soil test.",
}: {
  value: string;
  onChange: (field: string) => void;
  hint?: string;
}) {
  const farm = useFarm();
  const fields = useWorkedFields(farm.id);
  return (
    <Pick
      label="Field"
      hint={hint}
      value={value}
      onChange={onChange}
      empty="no field"
      clears
      options={(fields.data ?? []).map((field) => ({ value: field.id, text: field.name }))}
    />
  );
}
