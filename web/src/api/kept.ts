import {
  dehydrate,
  hydrate,
  type DehydratedState,
  type QueryClient,
  type QueryKey,
} from "@tanstack/react-query";
import { device } from "./device";

/** What was last read, kept on this device so that the application opens without signal. */
interface Kept {
  /** Of which shape: what another version of the application read is not shown by this one. */
  shape: string;
  state: DehydratedState;
}

const KEY = "read";
/** How long a thing read is worth showing, milliseconds: a fortnight, as long as a sign-in lasts. */
export const WORTH = 14 * 86_400_000;
/** No more often than this is written, milliseconds. */
const PAUSE = 2_000;
/** Answers to what-if questions: many and large, so only the latest are kept. */
const WHAT_IFS = 12;

/** What a link opens. */
const ofALink = new Set<unknown>(["invitation", "reset"]);

/** A question of choices that are still being turned over, not a thing of the farm. */
function isWhatIf(key: QueryKey): boolean {
  return key[0] === "reckon" || key[2] === "windows" || key[2] === "implied";
}

/** What is kept of all that was read. */
export function selected(state: DehydratedState): DehydratedState {
  // That nobody is signed in is not worth remembering.
  // Nor is a link that opens a farm a thing to keep.
  const lasting = state.queries.filter(
    ({ queryKey, state }) => !isWhatIf(queryKey) && !ofALink.has(queryKey[0]) && state.data !== null,
  );
  const latest = state.queries
    .filter((query) => isWhatIf(query.queryKey))
    .sort((a, b) => b.state.dataUpdatedAt - a.state.dataUpdatedAt)
    .slice(0, WHAT_IFS);
  // What failed since is still what was last read.
  const queries = [...lasting, ...latest].map((query) => ({
    ...query,
    state: {
      ...query.state,
      status: "success" as const,
      error: null,
      fetchStatus: "idle" as const,
      fetchFailureCount: 0,
      fetchFailureReason: null,
    },
  }));
  return { queries, mutations: [] };
}

/** What was kept, if this version can read it; nothing otherwise. */
export function readable(kept: unknown, shape: string, now: number): DehydratedState | null {
  if (typeof kept !== "object" || kept === null) return null;
  const { shape: of, state } = kept as Partial<Kept>;
  if (of !== shape || !Array.isArray(state?.queries)) return null;
  return {
    mutations: [],
    queries: state.queries.filter(
      (query) => typeof query?.state?.dataUpdatedAt === "number" && now - query.state.dataUpdatedAt < WORTH,
    ),
  };
}

/** Bring back what was last read. Whatever is wrong with it, the application opens. */
export async function restore(client: QueryClient, shape: string): Promise<void> {
  try {
    const state = readable(await (await device()).get("cache", KEY), shape, Date.now());
    if (state) hydrate(client, state);
    // Shown at once, and asked for anew as soon as a screen wants it.
    await client.invalidateQueries({ refetchType: "none" });
  } catch {
    // A browser that keeps nothing has nothing to bring back.
  }
}

/** Keep what is read from now on. */
export function keepReading(client: QueryClient, shape: string): void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const write = async () => {
    timer = undefined;
    const state = selected(
      dehydrate(client, { shouldDehydrateQuery: (query) => query.state.data !== undefined }),
    );
    try {
      await (await device()).put("cache", { shape, state } satisfies Kept, KEY);
    } catch {
      // Full or forbidden: then it opens only with signal, and the forms say so.
    }
  };
  client.getQueryCache().subscribe((event) => {
    if (event.type !== "updated" || event.action.type !== "success") return;
    timer ??= setTimeout(() => void write(), PAUSE);
  });
}

/** Forget what was read: somebody signed out. What is still to be sent stays. */
export async function forgetCache(): Promise<void> {
  try {
    await (await device()).delete("cache", KEY);
  } catch {
    // Nothing was kept.
  }
}
