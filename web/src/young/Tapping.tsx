/** A toss of the grid as it lies on the ground: a tap for each cell with a plant. */
export function Toss({ cells, onCells }: { cells: boolean[]; onCells: (cells: boolean[]) => void }) {
  return (
    <div role="group" aria-label="Cells with a plant" className="grid grid-cols-5 gap-1 pt-2">
      {cells.map((on, at) => (
        <button
          key={at}
          type="button"
          aria-pressed={on}
          aria-label={`Row ${Math.floor(at / 5) + 1}, cell ${(at % 5) + 1}`}
          className={`aspect-square min-h-14 border-2 ${on ? "border-growth bg-growth text-paper" : "border-rule bg-sunk"}`}
          onClick={() => onCells(cells.map((one, index) => (index === at ? !one : one)))}
        >
          <span aria-hidden className="text-xl">
            {on ? "●" : ""}
          </span>
        </button>
      ))}
    </div>
  );
}

/** More and less, as large as a thumb. */
export function Tally({ value, onChange }: { value: number; onChange: (value: number) => void }) {
  return (
    <div className="grid grid-cols-[1fr_2fr] gap-3 pt-2">
      <button
        type="button"
        aria-label="Subtract one"
        className="min-h-28 rounded-sm border-2 border-ink text-5xl disabled:border-rule disabled:text-pencil"
        disabled={value === 0}
        onClick={() => onChange(Math.max(0, value - 1))}
      >
        −
      </button>
      <button
        type="button"
        aria-label="Add one"
        className="min-h-28 rounded-sm bg-growth text-5xl text-paper"
        onClick={() => onChange(value + 1)}
      >
        +
      </button>
    </div>
  );
}
