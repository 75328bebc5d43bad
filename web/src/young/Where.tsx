import { useQuery } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../api/client";
import { useField, useGround } from "../api/queries";
import { FieldShape } from "../draw/FieldShape";
import { oddPlaces } from "../ground/odd";
import { useFarm } from "../shell/farm";
import { fieldAt } from "../shell/place";
import { usePlace } from "../shell/usePlace";
import { plain } from "../units/format";
import { useUnits } from "../units/useUnits";
import { oddSpots } from "../units/words";
import { away } from "./away";

/** Where to go: places drawn by lot over the field, and the way to the next. */
export function Where({ field, many }: { field: Schemas["Strip"]["field"]; many: number }) {
  const farm = useFarm();
  const detail = useField(farm.id, field.id);
  const boundary = detail.data?.field.boundary as Record<string, unknown> | null | undefined;
  const ground = useGround(farm.id, field.id);
  const odd = oddPlaces(ground.data);
  const apart = odd.map(({ longitude, latitude, radius }) => ({ longitude, latitude, radius }));
  const plan = useQuery({
    queryKey: ["farm", farm.id, "places", field.id, farm.today, apart],
    enabled: boundary != null && !ground.isPending,
    queryFn: () =>
      answered(
        api.POST("/api/reckon/count.plan", {
          body: {
            boundary: boundary as never,
            places: 20,
            within: { value: 8, unit: "%" },
            draw: drawOf(farm.today),
            odd: apart as Schemas["OddSpot"][],
          },
        }),
      ),
    retry: false,
  });
  const place = usePlace({ follow: true });
  const units = useUnits();
  const spots = plan.data?.value.spots ?? [];
  const goal = spots[many % Math.max(spots.length, 1)];
  const off = place && goal ? away(place, goal) : null;
  const outside = place && boundary && !fieldAt([{ boundary }], place);
  const unlike = odd[goal?.odd ?? -1];
  const small = (plan.data?.value.in_odd ?? []).flatMap((many, at) => (many === 0 ? (odd[at] ?? []) : []));
  const far = (metres: number) =>
    plain(units.system === "us" ? { value: metres / 0.3048, unit: "ft" } : { value: metres, unit: "m" });
  if (spots.length === 0) return null;
  return (
    <section aria-label="Sample points">
      <h2 className="flex min-h-11 items-center">Where</h2>
      <FieldShape
        boundary={boundary}
        inside={[]}
        spots={goal ? [goal] : []}
        odd={odd}
        size={220}
        height={180}
      />
      {off && (
        <p className="font-semibold">
          Point {many + 1}: {far(off.metres)} to the {off.towards}
        </p>
      )}
      {outside && <p className="font-semibold text-stop">✕ You are outside this field.</p>}
      {unlike && <p>This point is in an odd spot: {oddSpots[unlike.odd]}.</p>}
      <p className="text-sm text-pencil">
        Points are drawn at random over the whole field. The first six cross it and the next ones come back,
        so you can stop as soon as there are enough. The mark shows the next point.
        {odd.length > small.length && " Odd spots get their share of points."}
        {small.length > 0 &&
          ` Too small for a point; check separately: ${small.map((one) => oddSpots[one.odd]).join(", ")}.`}
      </p>
    </section>
  );
}

/** The same places all day. */
const drawOf = (today: string) => Number(today.replaceAll("-", ""));
