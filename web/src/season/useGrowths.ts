import { useQueries } from "@tanstack/react-query";
import { growthOf } from "../api/queries";
import type { Growth } from "../draw/growthPaths";

/** By stand: its growth, or why it is not told; neither while it is asked for. */
export type Growths = ReadonlyMap<string, { growth: Growth | undefined; untold: string | undefined }>;

/** What is told of the growth of stands, by stand: asked one by one, of those alone whose strips have been in sight. */
export function useGrowths(farm: string, stands: readonly string[], seen: ReadonlySet<string>) {
  return useQueries({
    queries: stands.map((stand) => ({ ...growthOf(farm, stand), enabled: seen.has(stand) })),
    combine: (answers) =>
      new Map(
        stands.map((stand, index) => {
          const view = answers[index]?.data;
          const told: { growth: Growth | undefined; untold: string | undefined } = {
            growth: view?.told?.value,
            untold: view?.untold ?? (answers[index]?.isError ? "Growth could not be loaded" : undefined),
          };
          return [stand, told] as const;
        }),
      ),
  });
}
