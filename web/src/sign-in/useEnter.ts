import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { homePage } from "../shell/home";

/** In at the door, as who has just signed in. */
export function useEnter() {
  const client = useQueryClient();
  const navigate = useNavigate();
  return (me: Schemas["Me"], page: "today" | "season" | "set-up" = homePage()) => {
    const before = client.getQueryData<Schemas["Me"] | null>(["me"]);
    // What another person read on this device is not shown to this one.
    if (before?.id !== me.id) client.clear();
    client.setQueryData(["me"], me);
    const farm = me.farms[0];
    if (farm) void navigate({ to: `/farms/$farm/${page}`, params: { farm: farm.id } });
  };
}
