import { useNavigate } from "@tanstack/react-router";

/** The address of a page of a farm. Pages come from a list, so the router can't know them by their letters. */
export function pageAddress(farm: string, path: string): "/" {
  return `/farms/${farm}/${path}` as "/";
}

/** Go to a page of the list, with what its address asks for. */
export function useGoTo(farm: string): (path: string, search?: object) => void {
  const navigate = useNavigate();
  return (path, search = {}) => void navigate({ to: pageAddress(farm, path), search: search as never });
}
