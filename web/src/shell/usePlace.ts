import { useEffect, useState } from "react";
import type { Place } from "./place";

/** Where the device is, once it tells; nothing where it may not or can't. */
export function usePlace(): Place | null {
  const [place, setPlace] = useState<Place | null>(null);
  useEffect(() => {
    if (!("geolocation" in navigator)) return;
    let current = true;
    navigator.geolocation.getCurrentPosition(
      ({ coords }) => current && setPlace(coords),
      () => {},
      { enableHighAccuracy: true, timeout: 15_000, maximumAge: 60_000 },
    );
    return () => {
      current = false;
    };
  }, []);
  return place;
}
