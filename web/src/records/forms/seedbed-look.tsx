import { useWatch } from "react-hook-form";
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { AmountField, PickOf, SeenOf, TextField } from "../../kit/form";
import { bootMarks, bootSchools, feels, growings, surfaces } from "../../units/words";
import { amount, blank, present, words } from "../amounts";
import { recordForm, type Payload } from "../form";

const choice = () => z.string();
const picked = (value: string) => (value === "" ? undefined : value);
const options = <T extends string>(of: Record<T, string>) =>
  (Object.entries(of) as [T, string][]).map(([value, text]) => ({ value, text }));

/** A look at a seedbed: each thing in one tap, what was not looked at left out. */
export default recordForm({
  given: z.unknown(),
  values: z.object({
    growing: choice(),
    feel: choice(),
    school: choice(),
    sunk: amount(),
    mark: choice(),
    surface: choice(),
    bare: choice(),
    note: words(),
  }),
  day: "Check date",
  begin: ({ units }) => ({
    growing: "",
    feel: "",
    school: "depth",
    sunk: blank(units.depth),
    mark: "",
    surface: "",
    bare: "",
    note: "",
  }),
  payload: ({ growing, feel, school, mark, surface, bare, note, ...read }) =>
    ({
      kind: "seedbed-look",
      ...present({ ...read, note: note.trim() }),
      ...present({
        growing: picked(growing),
        feel: picked(feel),
        mark: picked(mark),
        surface: picked(surface),
      }),
      ...(read.sunk || picked(mark) ? { school } : {}),
      ...(bare === "" ? {} : { bare: bare === "yes" }),
    }) as Payload,
  Fields: () => (
    <>
      <SeenOf name="growing" label="Weeds and growth" options={options(growings)} />
      <SeenOf name="feel" label="Soil at seeding depth, squeezed in the hand" options={options(feels)} />
      <Boot />
      <SeenOf name="surface" label="Surface" options={options(surfaces)} />
      <SeenOf
        name="bare"
        label="Heel scuff through thatch"
        options={[
          { value: "yes", text: "bare soil shows" },
          { value: "no", text: "no bare soil shows" },
        ]}
      />
      <TextField name="note" label="Other observations" lines={2} />
    </>
  ),
});

/** The boot: schools read it differently, so that one says which. */
function Boot() {
  const school = String(useWatch({ name: "school" }) ?? "depth") as Schemas["BootSchool"];
  return (
    <>
      <PickOf name="school" label="Boot test method" options={options(bootSchools)} />
      {school === "depth" ? (
        <AmountField name="sunk" label="Boot sinks" hint="Full weight on one foot." />
      ) : (
        <SeenOf name="mark" label="Boot print" options={options(bootMarks)} />
      )}
    </>
  );
}
