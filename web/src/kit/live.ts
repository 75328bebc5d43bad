import { useCallback } from "react";
import {
  useForm,
  useWatch,
  type DefaultValues,
  type FieldValues,
  type Path,
  type PathValue,
  type UseFormReturn,
} from "react-hook-form";

/** Change some of what stands in a form; as a function of it where it builds on what stands there. */
export type Change<V> = (part: Partial<V> | ((old: V) => Partial<V>)) => void;

export interface Live<V extends FieldValues> {
  /** What stands in it now. */
  now: V;
  change: Change<V>;
  form: UseFormReturn<V>;
}

/** A form that is answered while it is written: read whole at each change, never handed in. */
export function useLive<V extends FieldValues>(first: V): Live<V> {
  const form = useForm<V>({ defaultValues: first as DefaultValues<V> });
  const now = useWatch({ control: form.control }) as V;
  const change = useCallback<Change<V>>(
    (part) => {
      const next = typeof part === "function" ? part(form.getValues()) : part;
      for (const [name, value] of Object.entries(next))
        form.setValue(name as Path<V>, value as PathValue<V, Path<V>>);
    },
    [form],
  );
  return { now, change, form };
}
