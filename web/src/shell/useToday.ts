import { useQueryClient } from "@tanstack/react-query";
import { dayNow } from "../records/day";
import { useFarm } from "./farm";

/** The farm's day now, also when it could not be asked for some days. */
export function useToday(): string {
  const client = useQueryClient();
  const toldAt = client.getQueryState(["me"])?.dataUpdatedAt ?? 0;
  return dayNow(useFarm(), toldAt, new Date().getTime());
}
