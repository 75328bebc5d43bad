import type { AnyRecordForm } from "./form";

/** Every form, by the word of its kind: the name of its file. */
const files = import.meta.glob<AnyRecordForm>("./forms/*.tsx", { import: "default" });

const wordOf = (file: string) => file.slice("./forms/".length, -".tsx".length);
const loaders = new Map(Object.entries(files).map(([file, load]) => [wordOf(file), load]));
const loading = new Map<string, Promise<AnyRecordForm>>();

/** Whether a kind of record has a form. */
export function hasForm(kind: string): boolean {
  return loaders.has(kind);
}

/** The form of a kind; the same promise each time, so that a screen can wait for it. */
export function formOf(kind: string): Promise<AnyRecordForm> {
  const known = loading.get(kind);
  if (known) return known;
  const load = loaders.get(kind);
  if (!load) return Promise.reject(new Error(`no form for “${kind}”`));
  const form = load();
  loading.set(kind, form);
  // One that could not be fetched is fetched anew the next time.
  form.catch(() => loading.delete(kind));
  return form;
}

/** Have all forms at hand before they are needed: the signal may be gone by then. */
export function prepareForms(): void {
  for (const kind of loaders.keys()) formOf(kind).catch(() => {});
}
