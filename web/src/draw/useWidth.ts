import { useCallback, useState } from "react";

/** The width of an element in pixels, as it changes; attach the returned ref. */
export function useWidth(): [number, (element: HTMLElement | null) => void] {
  const [width, setWidth] = useState(0);
  const ref = useCallback((element: HTMLElement | null) => {
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    setWidth(element.clientWidth);
    return () => observer.disconnect();
  }, []);
  return [width, ref];
}
