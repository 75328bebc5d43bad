import { useEffect, useState } from "react";

/** Something that is under way is told only once it has taken this long, milliseconds: what comes at once would flicker. */
const SOON = 400;

/** Whether what is under way has taken longer than one would not notice. */
export function useSlow(underWay: boolean): boolean {
  const [slow, setSlow] = useState(false);
  useEffect(() => {
    if (!underWay) return;
    const told = setTimeout(() => setSlow(true), SOON);
    return () => {
      clearTimeout(told);
      setSlow(false);
    };
  }, [underWay]);
  return slow;
}
