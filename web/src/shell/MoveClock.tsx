import { zodResolver } from "@hookform/resolvers/zod";
import { useQueryClient } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { z } from "zod";
import { answered, api, type Schemas } from "../api/client";
import { DayOf, Form } from "../kit/form";
import { TaskSheet } from "../kit/Sheet";
import { wholeDay } from "../units/day";

const values = z.object({ day: wholeDay });

/** Move a practice farm's clock on. */
export function MoveClock({ farm, onDone }: { farm: Schemas["MyFarm"]; onDone: () => void }) {
  const client = useQueryClient();
  const form = useForm({ resolver: zodResolver(values), defaultValues: { day: farm.today } });
  return (
    <TaskSheet
      open
      onOpenChange={(open) => !open && onDone()}
      title="Practice clock"
      about="Move the practice day forward and watch the season unfold. It cannot go back."
    >
      <Form
        form={form}
        submit="Move the clock"
        onSubmit={async (body) => {
          await answered(api.POST("/api/farms/{farm}/clock", { params: { path: { farm: farm.id } }, body }));
          await client.invalidateQueries();
          onDone();
        }}
      >
        <DayOf name="day" label="New day" min={farm.today} />
      </Form>
    </TaskSheet>
  );
}
