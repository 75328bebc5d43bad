import { useQuery } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../api/client";
import { useFarm } from "../shell/farm";
import { dayText, plain, yearOf } from "../units/format";

interface Props {
  stand: string;
  crop: string;
  /** The unit of what is counted: others are no help. */
  unit: string | undefined;
}

type Made = Schemas["CountMade"];

/** A year about a day: the same season's counts of other fields. */
const SEASON = 200 * 86_400_000;

/** What this stand counted before, and other stands of the crop this season. */
export function Beside({ stand, crop, unit }: Props) {
  const farm = useFarm();
  const made = useQuery({
    queryKey: ["farm", farm.id, "counts"],
    queryFn: () => answered(api.GET("/api/farms/{farm}/counts", { params: { path: { farm: farm.id } } })),
  });
  const alike = (made.data?.counts ?? []).filter(
    (one) => one.crop === crop && (unit === undefined || one.mean.unit === unit),
  );
  const own = alike.filter((one) => one.stand === stand).slice(0, 5);
  const others = lastOfEach(
    alike.filter(
      (one) => one.stand !== stand && Math.abs(Date.parse(farm.today) - Date.parse(one.on)) < SEASON,
    ),
  );
  if (own.length + others.length === 0) return null;
  return (
    <section aria-label="Other counts" className="border-t border-rule pt-2">
      <h2>Other counts</h2>
      <List title="This stand" list={own} today={farm.today} />
      <List title="Same crop, other fields this season" list={others} today={farm.today} named />
    </section>
  );
}

/** They come newest first. */
function lastOfEach(list: readonly Made[]): Made[] {
  return list.filter((one, at) => list.findIndex((other) => other.stand === one.stand) === at);
}

interface ListProps {
  title: string;
  list: readonly Made[];
  today: string;
  named?: boolean;
}

function List({ title, list, today, named = false }: ListProps) {
  if (list.length === 0) return null;
  return (
    <>
      <p className="text-sm font-semibold">{title}</p>
      <ul>
        {list.map((one) => (
          <li key={one.entry} className="flex justify-between gap-x-3 border-b border-rule py-1 text-sm">
            <span>
              {named && <span className="font-semibold">{one.field_name} </span>}
              <span className="text-pencil">
                {dayText(one.on, yearOf(today))}
                {one.age != null && `, ${ageText(one.age)} old`}
              </span>
            </span>
            <span className="whitespace-nowrap">
              {plain(one.mean)}
              {one.interval && <span className="text-pencil"> ({one.interval.map(plain).join(" to ")})</span>}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

const ageText = (days: number) => (days < 120 ? `${days} days` : `${Math.round(days / 30.44)} months`);
