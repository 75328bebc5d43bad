import { useState } from "react";
import { answered, api } from "../api/client";
import { Trouble } from "../kit/states";
import { useFarm } from "../shell/farm";

interface Props {
  /** What the cups are of. */
  cup: string;
  unit: "g" | "oz";
  rows: string[];
  /** A row, from 0, and what it weighs. */
  onWeighed: (row: number, weight: string) => void;
}

/** A scale that sends its weight: into the first row that is empty. */
export function Scale({ cup, unit, rows, onWeighed }: Props) {
  const farm = useFarm();
  const [error, setError] = useState<Error | null>(null);
  const [turned, setTurned] = useState(false);
  const [busy, setBusy] = useState(false);
  const at = rows.findIndex((row) => row.trim() === "");
  const weigh = async () => {
    setBusy(true);
    setError(null);
    try {
      const told = await answered(
        api.GET("/api/farms/{farm}/scale", {
          params: { path: { farm: farm.id }, query: { cup: `${cup} ${at + 1}`, unit } },
        }),
      );
      setTurned(told.turned);
      onWeighed(at, String(told.value));
    } catch (wrong) {
      setError(wrong instanceof Error ? wrong : new Error(String(wrong)));
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="pb-1">
      <button type="button" className="line-button" disabled={at < 0 || busy} onClick={() => void weigh()}>
        {at < 0 ? "All rows weighed" : `Weigh row ${at + 1}`}
      </button>
      {turned && <p className="text-sm text-pencil">The scale uses another unit; converted to {unit}.</p>}
      {error && <Trouble error={error} />}
    </div>
  );
}
