import type { ReactNode } from "react";

export interface Column<Row> {
  key: string;
  /** Its heading; nothing for a column that needs none to be understood. */
  head: ReactNode;
  /** Words for those who can't see the heading, where it is empty. */
  headLabel?: string;
  cell: (row: Row) => ReactNode;
  /** Figures stand at the right. */
  figures?: boolean;
  /** The cell that names the row. */
  names?: boolean;
  className?: string;
}

interface Props<Row> {
  label: string;
  columns: readonly Column<Row>[];
  rows: readonly Row[];
  rowKey: (row: Row) => string;
  /** Attributes of a row, such as what it is about. */
  rowProps?: (row: Row) => Record<string, string | boolean | undefined>;
  foot?: ReactNode;
  /** On a narrow screen each row is a block of its own, without headings. */
  stacks?: boolean;
  className?: string;
}

/** Rows under headings: lots, entries, products. Wider than the page, it scrolls within itself. */
export function Table<Row>(props: Props<Row>) {
  const { label, columns, rows, rowKey, rowProps, foot, stacks, className = "w-full" } = props;
  const pad = (column: Column<Row>) =>
    `py-1.5 pr-4 align-baseline last:pr-0 ${column.figures ? "text-right" : "text-left"} ${stacks ? "max-sm:block max-sm:py-0 max-sm:text-left" : ""} ${column.className ?? ""}`;
  const table = (
    <table aria-label={label} className={`border-t-2 border-ink ${className}`}>
      <thead className={`text-sm text-pencil ${stacks ? "max-sm:sr-only" : ""}`}>
        <tr>
          {columns.map((column) => (
            <th
              key={column.key}
              scope="col"
              className={`py-1.5 pr-4 align-bottom font-normal last:pr-0 ${column.figures ? "text-right" : "text-left"}`}
            >
              {column.head || <span className="sr-only">{column.headLabel}</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr
            key={rowKey(row)}
            className={`border-t border-rule ${stacks ? "max-sm:block max-sm:py-2" : ""}`}
            {...rowProps?.(row)}
          >
            {columns.map((column) =>
              column.names ? (
                <th key={column.key} scope="row" className={`font-normal ${pad(column)}`}>
                  {column.cell(row)}
                </th>
              ) : (
                <td key={column.key} className={pad(column)}>
                  {column.cell(row)}
                </td>
              ),
            )}
          </tr>
        ))}
      </tbody>
      {foot && <tfoot className="border-t border-ink font-semibold">{foot}</tfoot>}
    </table>
  );
  if (stacks) return table;
  return (
    <div className="overflow-x-auto" tabIndex={0} role="region" aria-label={`${label}, table`}>
      {table}
    </div>
  );
}
