import { useQuery } from "@tanstack/react-query";
import { z } from "zod";
import { answered, api, type Schemas } from "../../api/client";
import { NumberField, PickOf, TextField, TickOf } from "../../kit/form";
import type { Farm } from "../../shell/farm";
import { figure, numberOf, present, words } from "../amounts";
import { recordForm, type Payload } from "../form";

const given = z.object({
  id: z.string(),
  crop: z.string(),
  facts: z.custom<Schemas["RecordedVariety"]>().optional(),
  after: z.string().optional(),
});

/** A variety that the farm knows: recorded again, the one before is as it was. */
export default recordForm({
  given,
  values: z.object({
    name: words("Enter a name."),
    kind_of_it: z.string(),
    dormancy: figure(),
    maturity_days: figure(),
    bears: words(),
    note: words(),
    gone: z.boolean(),
  }),
  day: "Effective from",
  begin: ({ given: { facts } }) => ({
    name: facts?.name ?? "",
    kind_of_it: facts?.kind_of_it ?? "",
    dormancy: facts?.dormancy != null ? String(facts.dormancy) : "",
    maturity_days: facts?.maturity_days != null ? String(facts.maturity_days) : "",
    bears: facts?.bears ?? "",
    note: facts?.note ?? "",
    gone: facts?.gone ?? false,
  }),
  about: (_, { with: given }) => [{ kind: "variety", id: given?.["id"] as string }],
  after: ({ after }) => after,
  payload: ({ name, kind_of_it, dormancy, maturity_days, bears, note, gone }, { given: { crop } }) =>
    ({
      kind: "variety",
      name: name.trim(),
      crop,
      ...present({
        kind_of_it,
        dormancy: numberOf(dormancy),
        maturity_days: numberOf(maturity_days),
        bears: bears.trim(),
        note: note.trim(),
      }),
      gone,
    }) as Payload,
  Fields: ({ farm, given }) => <Fields farm={farm} crop={given.crop} />,
});

function Fields({ farm, crop }: { farm: Farm; crop: string }) {
  const varieties = useQuery({
    queryKey: ["farm", farm.id, "varieties", crop],
    queryFn: () =>
      answered(
        api.GET("/api/farms/{farm}/varieties", { params: { path: { farm: farm.id }, query: { crop } } }),
      ),
  });
  const kinds = varieties.data?.told?.value.kinds ?? [];
  return (
    <>
      <TextField name="name" label="Name" />
      {kinds.length > 0 && (
        <PickOf
          name="kind_of_it"
          label="Type"
          empty="not known"
          clears
          options={kinds.map(({ key, name }) => ({ value: key, text: name }))}
        />
      )}
      <div className="grid grid-cols-2 gap-x-5">
        {crop === "alfalfa" && <NumberField name="dormancy" label="Fall dormancy" />}
        <NumberField name="maturity_days" label="Days to maturity" />
      </div>
      <TextField name="bears" label="Herbicides tolerated" hint="e.g. glyphosate. Leave blank if none." />
      <TextField name="note" label="Results and notes" lines={2} />
      <TickOf name="gone">No longer sown</TickOf>
    </>
  );
}
