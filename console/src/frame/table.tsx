import type { ReactNode } from 'react';
import { goByRows } from './by-rows.js';

interface TableProps {
  /** What it lists, for readers of the screen. */
  readonly label: string;
  readonly columns: readonly (string | { readonly title: string; readonly right: true })[];
  /** Undefined while loading, and after an error, which is shown elsewhere. */
  readonly rows:
    | readonly {
        readonly key: string | number;
        readonly cells: readonly ReactNode[];
        readonly tone?: string;
      }[]
    | undefined;
  readonly empty?: ReactNode;
}

/** Rows parted by hairlines. */
export function Table({ label, columns, rows, empty }: TableProps) {
  if (rows === undefined) return null;
  if (rows.length === 0) return <p className="py-2 text-soft">{empty ?? 'Nothing yet.'}</p>;
  return (
    // What is too wide for a small screen scrolls by itself, and not the page with it.
    <div data-wide className="relative overflow-x-auto">
      <table aria-label={label} className="w-full text-left" onKeyDown={goByRows}>
        <thead className="text-soft">
          <tr>
            {columns.map((column) => {
              const [title, right] = typeof column === 'string' ? [column, false] : [column.title, true];
              return (
                <th
                  key={title}
                  scope="col"
                  className={`border-b border-line py-1 pr-3 font-normal ${right ? 'text-right' : ''}`}
                >
                  {title}
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ key, cells, tone = '' }) => (
            <tr key={key} className={`border-b border-line/60 align-baseline ${tone}`}>
              {cells.map((cell, index) => (
                <td
                  // The cells of a row are under the columns, which do not move.
                  key={index}
                  className={`py-1 pr-3 ${typeof columns[index] === 'object' ? 'text-right tabular-nums' : ''}`}
                >
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
