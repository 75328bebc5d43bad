import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api, Refused, type Schemas } from "../api/client";
import { DayField } from "../ui/DayField";
import { TaskSheet } from "../ui/Sheet";
import { Trouble } from "../ui/states";
import { dayText } from "../units/format";

/** The day at the farm. A practice farm's clock stands still until its manager moves it on. */
export function Clock({ farm }: { farm: Schemas["MyFarm"] }) {
  const [moving, setMoving] = useState(false);
  if (!farm.practice || farm.role !== "manager")
    return (
      <span>
        {dayText(farm.today, 0)}
        {farm.practice && <span className="text-pencil"> practice</span>}
      </span>
    );
  return (
    <>
      <button type="button" className="min-h-6 underline decoration-dotted" onClick={() => setMoving(true)}>
        {dayText(farm.today, 0)} <span className="text-pencil">practice</span>
      </button>
      {moving && <MoveSheet farm={farm} onDone={() => setMoving(false)} />}
    </>
  );
}

function MoveSheet({ farm, onDone }: { farm: Schemas["MyFarm"]; onDone: () => void }) {
  const client = useQueryClient();
  const [day, setDay] = useState(farm.today);
  const [refused, setRefused] = useState<Refused>();
  const move = async (event: React.FormEvent) => {
    event.preventDefault();
    try {
      await answered(
        api.POST("/api/farms/{farm}/clock", { params: { path: { farm: farm.id } }, body: { day } }),
      );
      await client.invalidateQueries();
      onDone();
    } catch (error) {
      if (error instanceof Refused) setRefused(error);
      else throw error;
    }
  };
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title="Practice clock"
      about="Play the season through: move the day on. It does not go back."
    >
      <form className="mt-3" onSubmit={(event) => void move(event)}>
        <DayField
          label="Move on to"
          min={farm.today}
          value={day}
          onChange={setDay}
          error={refused?.at("/day")}
        />
        {refused && !refused.problem.errors?.length && <Trouble error={refused} />}
        <button type="submit" className="ink-button mt-2">
          Move the clock
        </button>
      </form>
    </TaskSheet>
  );
}
