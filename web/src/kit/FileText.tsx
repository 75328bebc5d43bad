import { Collapse } from "./Collapse";
import { Labelled } from "./Labelled";
import { Pick } from "./Pick";

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
      <Labelled label="Contents" error={error}>
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
    <Collapse className="pt-1 text-sm" title="Column names">
      <div className="grid grid-cols-2 gap-x-4">
        {Object.entries(columns).map(([column, words]) => (
          <Pick
            key={column}
            label={words}
            value={named[column] ?? ""}
            onChange={(name) => choose(column, name)}
            empty="as detected"
            clears
            options={names.map((name) => ({ value: name, text: name }))}
          />
        ))}
      </div>
    </Collapse>
  );
}
