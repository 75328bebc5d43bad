import {
  keepPreviousData,
  queryOptions,
  type QueryClient,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { shareOf } from "../units/format";
import { answered, api, Refused, type Schemas } from "./client";

/** Who is signed in; null when nobody is. */
export function useMe() {
  return useQuery({
    queryKey: ["me"],
    queryFn: async () => {
      try {
        return await answered(api.GET("/api/me"));
      } catch (error) {
        if (error instanceof Refused && error.status === 401) return null;
        throw error;
      }
    },
    staleTime: 60_000,
  });
}

/** The odds at which a window counts as open: a person's own, from 0 to 1. */
export function useOddsLevel(): number {
  const me = useMe();
  return me.data ? shareOf(me.data.odds_level) : 0.5;
}

/**
 * Change one's own settings; new units or odds mean that what was read by the old is asked for again.
 * When it is not kept, `useUnsettled` says why on every page.
 */
export function useSettle() {
  const client = useQueryClient();
  return (settings: Schemas["Settings"]): Promise<void> => {
    const mine = settled.then(() => settle(client, settings));
    settled = mine;
    return mine;
  };
}

/** Changes go out one after another: an answer that overtakes a later one would show what was chosen before. */
let settled = Promise.resolve();

async function settle(client: QueryClient, settings: Schemas["Settings"]): Promise<void> {
  try {
    client.setQueryData(["me"], await answered(api.PATCH("/api/me", { body: settings })));
  } catch (error) {
    client.setQueryData(["unsettled"], error);
    return;
  }
  client.setQueryData(["unsettled"], null);
  if (settings.units || settings.odds_level)
    await client.invalidateQueries({ predicate: ({ queryKey }) => !ofThePerson.has(queryKey[0]) });
}

const ofThePerson = new Set<unknown>(["me", "unsettled"]);

/** Why the last change of a setting was not kept. */
export function useUnsettled(): Error | null {
  const query = useQuery<Error | null>({ queryKey: ["unsettled"], queryFn: () => null, staleTime: Infinity });
  return query.data ?? null;
}

export function useCrops() {
  return useQuery({
    queryKey: ["crops"],
    queryFn: () => answered(api.GET("/api/crops")).then((answer) => answer.crops),
    staleTime: Infinity,
  });
}

/** Kinds of record, operations and practices. */
export function useShelf() {
  return useQuery({
    queryKey: ["shelf"],
    queryFn: () => answered(api.GET("/api/shelf")),
    staleTime: Infinity,
  });
}

export function useMachines(farm: string) {
  return useQuery({
    queryKey: ["farm", farm, "machines"],
    queryFn: () => answered(api.GET("/api/farms/{farm}/machines", { params: { path: { farm } } })),
  });
}

export function useProducts(farm: string) {
  return useQuery({
    queryKey: ["farm", farm, "products"],
    queryFn: () => answered(api.GET("/api/farms/{farm}/products", { params: { path: { farm } } })),
  });
}

export function useForage(farm: string) {
  return useQuery({
    queryKey: ["farm", farm, "forage"],
    queryFn: () => answered(api.GET("/api/farms/{farm}/forage", { params: { path: { farm } } })),
  });
}

export function useMixes(farm: string) {
  return useQuery({
    queryKey: ["farm", farm, "mixes"],
    queryFn: () => answered(api.GET("/api/farms/{farm}/mixes", { params: { path: { farm } } })),
  });
}

export function useSeason(farm: string) {
  return useQuery({
    queryKey: ["farm", farm, "season"],
    queryFn: () => answered(api.GET("/api/farms/{farm}/season", { params: { path: { farm } } })),
  });
}

/** The weather band over a stretch of days; asked for only while so many days can be told apart. */
export function useWeather(farm: string, from: string, to: string, enabled = true) {
  return useQuery({
    queryKey: ["farm", farm, "weather", from, to],
    enabled,
    placeholderData: keepPreviousData,
    queryFn: () =>
      answered(api.GET("/api/farms/{farm}/weather", { params: { path: { farm }, query: { from, to } } })),
  });
}

/** The hours of some days, as the station sent them. */
export function useHours(farm: string, from: string, to: string, enabled: boolean) {
  return useQuery({
    queryKey: ["farm", farm, "hours", from, to],
    enabled,
    placeholderData: keepPreviousData,
    queryFn: () =>
      answered(
        api.GET("/api/farms/{farm}/weather/hours", { params: { path: { farm }, query: { from, to } } }),
      ),
  });
}

/** What the years say of a sowing on a field. */
export function useWindows(
  farm: string,
  field: string | undefined,
  choices: Schemas["Choices"] | undefined,
  level = 0.5,
  stake: Schemas["Money"] | null = null,
) {
  return useQuery<Schemas["WindowsView"], Refused>({
    queryKey: ["farm", farm, "windows", field, choices, level, stake],
    enabled: Boolean(field && choices),
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => {
      if (!field || !choices) throw new Error("nothing to work out yet");
      const share = { value: level, unit: "1" } as Schemas["Fraction"];
      const body = { field, choices, level: share, ...(stake ? { stake } : {}) };
      return answered(api.POST("/api/farms/{farm}/windows", { params: { path: { farm } }, body }));
    },
  });
}

export function useIrrigation(farm: string, field: string) {
  return useQuery({
    queryKey: ["farm", farm, "irrigation", field],
    queryFn: () =>
      answered(api.GET("/api/farms/{farm}/fields/{field}/irrigation", { params: { path: { farm, field } } })),
  });
}

/** How a stand grows: what is asked, for one of them or for many. */
export const growthOf = (farm: string, stand: string) =>
  queryOptions({
    queryKey: ["farm", farm, "growth", stand],
    queryFn: () =>
      answered(api.GET("/api/farms/{farm}/stands/{stand}/growth", { params: { path: { farm, stand } } })),
  });

export function useGrowth(farm: string, stand: string) {
  return useQuery(growthOf(farm, stand));
}

/** Ways of cutting a stand, and days of one's own; in the units read, so that an answer under way is never another's. */
export function useCutting(farm: string, stand: string, units: string, body: Schemas["CuttingRequest"]) {
  return useQuery<Schemas["CuttingView"], Refused>({
    queryKey: ["farm", farm, "cutting", stand, units, body],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      answered(
        api.POST("/api/farms/{farm}/stands/{stand}/cutting", { params: { path: { farm, stand } }, body }),
      ),
  });
}

export function useWeatherFiles(farm: string) {
  return useQuery({
    queryKey: ["farm", farm, "weather-files"],
    queryFn: () =>
      answered(api.GET("/api/farms/{farm}/weather/files", { params: { path: { farm } } })).then(
        (answer) => answer.imports,
      ),
  });
}

export function useFields(farm: string) {
  return useQuery({
    queryKey: ["farm", farm, "fields"],
    queryFn: () =>
      answered(api.GET("/api/farms/{farm}/fields", { params: { path: { farm } } })).then((a) => a.fields),
  });
}

/** The fields that are worked: what is offered to choose from. */
export function useWorkedFields(farm: string) {
  const fields = useFields(farm);
  return { ...fields, data: fields.data?.filter((field) => !field.retired) };
}

export function useField(farm: string, field: string) {
  return useQuery({
    queryKey: ["farm", farm, "field", field],
    queryFn: () =>
      answered(api.GET("/api/farms/{farm}/fields/{field}", { params: { path: { farm, field } } })),
  });
}

export function useGround(farm: string, field: string | undefined) {
  return useQuery({
    queryKey: ["farm", farm, "ground", field],
    enabled: field !== undefined && field !== "",
    queryFn: () =>
      answered(
        api.GET("/api/farms/{farm}/fields/{field}/ground", {
          params: { path: { farm, field: field ?? "" } },
        }),
      ),
  });
}

/** Ordinary liming materials and fertilisers to start from. */
export function useMaterials(farm: string) {
  return useQuery({
    queryKey: ["farm", farm, "materials"],
    queryFn: () => answered(api.GET("/api/farms/{farm}/materials", { params: { path: { farm } } })),
  });
}

export function useStand(farm: string, stand: string | undefined) {
  return useQuery({
    queryKey: ["farm", farm, "stand", stand],
    enabled: stand !== undefined,
    queryFn: () =>
      answered(
        api.GET("/api/farms/{farm}/stands/{stand}", { params: { path: { farm, stand: stand ?? "" } } }),
      ),
  });
}

export function useLots(farm: string) {
  return useQuery({
    queryKey: ["farm", farm, "lots"],
    queryFn: () =>
      answered(api.GET("/api/farms/{farm}/lots", { params: { path: { farm } } })).then((a) => a.lots),
  });
}

export interface EntryFilter {
  field?: string;
  stand?: string;
  kind?: string;
  older_than?: string;
  newer_than?: string;
  oldest?: boolean;
}

export function useEntries(farm: string, query: EntryFilter) {
  return useQuery({
    queryKey: ["farm", farm, "entries", query],
    placeholderData: keepPreviousData,
    queryFn: () => answered(api.GET("/api/farms/{farm}/entries", { params: { path: { farm }, query } })),
  });
}

/** One entry; nothing is asked while it is not known which. */
export function useEntry(farm: string, entry: string | null) {
  return useQuery({
    queryKey: ["farm", farm, "entry", entry],
    enabled: entry !== null,
    queryFn: () =>
      answered(
        api.GET("/api/farms/{farm}/entries/{entry}", { params: { path: { farm, entry: entry ?? "" } } }),
      ),
  });
}

/** What choices imply, worked out again at every change; the last good answer stays meanwhile. */
export function useImplied(farm: string, field: string | undefined, choices: Schemas["Choices"] | undefined) {
  return useQuery({
    queryKey: ["farm", farm, "implied", field, choices],
    enabled: field !== undefined && choices !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () => {
      if (!field || !choices) throw new Error("no choice made yet");
      return answered(
        api.POST("/api/farms/{farm}/plan", { params: { path: { farm } }, body: { field, choices } }),
      );
    },
  });
}

/** A change of the farm's records; everything shown of the farm is asked for again. */
export function useRecord<Input, Output>(farm: string, record: (input: Input) => Promise<Output>) {
  const client = useQueryClient();
  return useMutation<Output, Refused, Input>({
    mutationFn: record,
    // Not waited for: the form that asked may be gone by the time all is read again, and with it
    // what it meant to do on success.
    onSuccess: () => void client.invalidateQueries({ queryKey: ["farm", farm] }),
  });
}

/**
 * Every reckoning is a query of its own request: equal questions are asked once. One that nobody looks at any more
 * is called off where `ask` hands the signal on, and the server ends its search.
 */
export function useReckoning<T>(
  key: string,
  request: unknown,
  ask: (signal: AbortSignal) => Promise<T>,
  enabled = true,
) {
  return useQuery<T, Refused>({
    queryKey: ["reckon", key, request],
    queryFn: ({ signal }) => ask(signal),
    enabled,
    placeholderData: keepPreviousData,
    retry: false,
  });
}
