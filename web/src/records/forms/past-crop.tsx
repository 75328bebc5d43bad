import { useWatch } from "react-hook-form";
import { z } from "zod";
import { useCrops } from "../../api/queries";
import { NumberField, PickOf, TextField } from "../../kit/form";
import { figure, numberOf, words } from "../amounts";
import { recordForm } from "../form";

/** Crops that are not in the library are written. */
const OTHER = "other";

/** A crop that was ended. */
export default recordForm({
  given: z.unknown(),
  values: z.object({ crop: words("Choose a crop."), other: words(), years: figure() }),
  day: "Date ended",
  begin: () => ({ crop: "", other: "", years: "" }),
  payload: ({ crop, other, years }) => {
    const stood = numberOf(years);
    return {
      kind: "past-crop",
      crop: crop === OTHER ? other.trim() : crop,
      ...(stood === null ? {} : { years: stood }),
    };
  },
  Fields: () => {
    const crops = useCrops();
    const crop: unknown = useWatch({ name: "crop" });
    return (
      <>
        <PickOf
          name="crop"
          label="Crop"
          options={[
            ...(crops.data ?? []).map((one) => ({ value: one.id, text: one.name })),
            { value: OTHER, text: "other" },
          ]}
        />
        {crop === OTHER && <TextField name="other" label="Crop name" at="/payload/crop" />}
        <NumberField name="years" label="Years in this crop" />
      </>
    );
  },
});
