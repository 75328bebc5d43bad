import { useSpan, zooms, type Zoom } from "../draw/span";
import { Choice } from "../kit/Choice";

const names: Record<Zoom, string> = {
  fortnight: "Fortnight",
  season: "Season",
  year: "Year",
  "stand life": "Stand life",
};

/** Move along the years, and from a fortnight to the life of a stand. */
export function SpanControls() {
  const { zoom, setZoom, shift, reset } = useSpan();
  return (
    <div className="no-print flex flex-wrap items-center gap-x-5">
      <Choice
        label="Time span"
        value={zoom}
        onChange={setZoom}
        options={zooms.map((value) => ({ value, text: names[value] }))}
      />
      <div className="flex items-center gap-1">
        <button type="button" className="min-h-9 px-2 text-lg" aria-label="Earlier" onClick={() => shift(-1)}>
          ←
        </button>
        <button type="button" className="min-h-9 px-1 text-sm underline" onClick={reset}>
          Today
        </button>
        <button type="button" className="min-h-9 px-2 text-lg" aria-label="Later" onClick={() => shift(1)}>
          →
        </button>
      </div>
    </div>
  );
}
