import { lazy, Suspense, useState } from "react";
import type { Schemas } from "../api/client";
import { dayText } from "../units/format";

const MoveClock = lazy(() => import("./MoveClock").then((room) => ({ default: room.MoveClock })));

/** The day at the farm. A practice farm's clock stands still until its manager moves it on. */
export function Clock({ farm }: { farm: Schemas["MyFarm"] }) {
  const [moving, setMoving] = useState(false);
  if (!farm.practice || farm.role !== "manager")
    return (
      <span>
        {dayText(farm.today, 0)}
        {farm.practice && <span className="text-pencil max-sm:sr-only"> practice day</span>}
      </span>
    );
  return (
    <>
      <button type="button" className="min-h-6 underline decoration-dotted" onClick={() => setMoving(true)}>
        {dayText(farm.today, 0)} <span className="text-pencil max-sm:sr-only">practice day</span>
      </button>
      {moving && (
        <Suspense>
          <MoveClock farm={farm} onDone={() => setMoving(false)} />
        </Suspense>
      )}
    </>
  );
}
