import { Labelled } from "./Labelled";

/** More can't be read on a screen, and slows every keystroke. */
const MOST = 20_000;

interface Props {
  text: string;
  /** Chosen from the disk, with its name, or typed and pasted, without one. */
  onText: (text: string, name?: string) => void;
  rows: number;
  error?: string | undefined;
}

/** A text file: chosen from the disk, or pasted; what it holds is seen. */
export function FileText({ text, onText, rows, error }: Props) {
  return (
    <>
      <Labelled label="File">
        {(ids) => (
          <input
            {...ids}
            type="file"
            accept=".csv,.txt,text/csv"
            className="entry text-sm"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void file.text().then((read) => onText(read, file.name));
            }}
          />
        )}
      </Labelled>
      <Labelled label="What it holds" error={error}>
        {(ids) => (
          <textarea
            {...ids}
            rows={rows}
            className="entry font-mono text-sm"
            value={text.length > MOST ? `${text.slice(0, MOST)}…` : text}
            readOnly={text.length > MOST}
            onChange={(event) => onText(event.target.value)}
          />
        )}
      </Labelled>
    </>
  );
}

/** Names in the first line of a file. */
function headings(text: string): string[] {
  const first = text.split(/\r?\n/, 1)[0] ?? "";
  const sign = first.includes(";") ? ";" : first.includes("\t") ? "\t" : ",";
  return first
    .split(sign)
    .map((name) => name.trim().replace(/^"|"$/g, ""))
    .filter((name) => name !== "");
}

interface NamesProps {
  /** What a column can hold, with the words for it. */
  columns: Record<string, string>;
  text: string;
  /** The heading named for each, where it is not recognised by itself. */
  named: Record<string, string>;
  onNamed: (named: Record<string, string>) => void;
}

/** Say which heading of a file holds what. */
export function ColumnNames({ columns, text, named, onNamed }: NamesProps) {
  const names = headings(text);
  const choose = (column: string, name: string) => {
    const rest = Object.entries(named).filter(([key]) => key !== column);
    onNamed(Object.fromEntries(name === "" ? rest : [...rest, [column, name]]));
  };
  return (
    <details className="pt-1 text-sm">
      <summary className="min-h-6">Columns by other names</summary>
      {Object.entries(columns).map(([column, words]) => (
        <label key={column} className="flex justify-between gap-2 py-0.5">
          {words}
          <select
            className="w-40 border-b border-pencil bg-transparent"
            value={named[column] ?? ""}
            onChange={(event) => choose(column, event.target.value)}
          >
            <option value="">as recognised</option>
            {names.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
      ))}
    </details>
  );
}
