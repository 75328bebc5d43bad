import { useSpan, zooms } from "../draw/span";
import { Choice } from "../kit/Choice";

/** Move along the years, and from a fortnight to the life of a stand. */
export function SpanControls() {
  const { zoom, setZoom, shift, reset } = useSpan();
  return (
    <div className="no-print flex flex-wrap items-center gap-x-5">
      <Choice
        label="Time span"
        value={zoom}
        onChange={setZoom}
        options={zooms.map((value) => ({ value, text: value }))}
      />
      <div className="flex items-center gap-1">
        <button type="button" className="min-h-9 px-2 text-lg" aria-label="Earlier" onClick={() => shift(-1)}>
          ←
        </button>
        <button type="button" className="min-h-9 px-1 text-sm underline" onClick={reset}>
          today
        </button>
        <button type="button" className="min-h-9 px-2 text-lg" aria-label="Later" onClick={() => shift(1)}>
          →
        </button>
      </div>
    </div>
  );
}
