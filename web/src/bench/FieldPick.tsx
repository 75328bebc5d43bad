import { useFields } from "../api/queries";
import { useFarm } from "../shell/farm";
import { Labelled } from "../ui/Labelled";

/** The field a bench is filled from. */
export function FieldPick({ value, onChange }: { value: string; onChange: (field: string) => void }) {
  const farm = useFarm();
  const fields = useFields(farm.id);
  return (
    <Labelled label="Field" hint="its latest soil test fills the bench">
      {(ids) => (
        <select {...ids} className="entry" value={value} onChange={(event) => onChange(event.target.value)}>
          <option value="">no field</option>
          {fields.data?.map((field) => (
            <option key={field.id} value={field.id}>
              {field.name}
            </option>
          ))}
        </select>
      )}
    </Labelled>
  );
}
