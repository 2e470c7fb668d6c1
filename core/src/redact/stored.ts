import type { ColumnTable } from '../column/index.js';
import type { Redaction } from './redaction.js';

/** The fields of requests that can be left out when they are stored, without making the rest untrue. */
export const STORED_FORMS = ['client', 'user', 'header', 'header.NAME'] as const;

/** Whether a redaction can be made when a log is stored: what is hidden must then be unseen as a whole. */
export const isStorable = ({ client, query }: Redaction): boolean => typeof client !== 'number' && query.length === 0;

const CLIENT_COLUMNS = ['peer', 'header.forwarded', 'header.x-forwarded-for'];
const OWN_COLUMNS: Readonly<Record<string, string>> = { agent: 'user-agent', referrer: 'referer' };

/** The requests without what is not to be stored. To rules that is unseen, so that they become blind where they ask. */
export function withoutRedacted(table: ColumnTable, { client, user, headers }: Redaction): ColumnTable {
  const hides = (header: string) => headers === 'all' || headers.includes(header);
  const gone = (column: string): boolean => {
    if (client !== undefined && CLIENT_COLUMNS.includes(column)) return true;
    if (user && column === 'user') return true;
    // The request no longer has all its headers, so a missing one must not count as absent.
    if (column === 'all-headers') return client !== undefined || headers.length > 0;
    const header = column.startsWith('header.') ? column.slice('header.'.length) : OWN_COLUMNS[column];
    return header !== undefined && hides(header);
  };
  return { rows: table.rows, columns: new Map([...table.columns].filter(([name]) => !gone(name))) };
}
