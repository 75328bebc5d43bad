import { useEffect, useState } from "react";
import type { Place } from "./place";

/** Where the device is, once it tells, or all the while it moves; nothing where it may not or can't. */
export function usePlace({ follow = false }: { follow?: boolean } = {}): Place | null {
  const [place, setPlace] = useState<Place | null>(null);
  useEffect(() => {
    if (!("geolocation" in navigator)) return;
    let current = true;
    const told = ({ coords }: GeolocationPosition) => current && setPlace(coords);
    const untold = () => {};
    const options = { enableHighAccuracy: true, timeout: 15_000, maximumAge: follow ? 2_000 : 60_000 };
    const watch = follow ? navigator.geolocation.watchPosition(told, untold, options) : null;
    if (!follow) navigator.geolocation.getCurrentPosition(told, untold, options);
    return () => {
      current = false;
      if (watch !== null) navigator.geolocation.clearWatch(watch);
    };
  }, [follow]);
  return place;
}
