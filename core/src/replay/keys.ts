import type { ColumnTable } from '../column/index.js';
import { type Field, fieldName } from '../condition/index.js';
import {
  BETWEEN_PARTS,
  combine,
  keyPart,
  type LimitKey,
  numberColumn,
  type Prepared,
  type Subject,
  subjectOf,
  type Unseen,
} from '../engine/index.js';
import type { KeyPart, Limit } from '../limit/index.js';
import { ChunkRows } from '../log/index.js';
import type { Policy } from '../policy/index.js';
import { makeRequest } from '../request/index.js';
import type { ResolvedClients } from './clients.js';

/** What the keys of a block's rows are read from. */
export interface KeyedBlock {
  readonly table: ColumnTable;
  readonly rows: Uint32Array;
  readonly clients: ResolvedClients;
  readonly policy: Policy;
  readonly prepared: Prepared;
}

/** One part of the keys of all rows: the number of its text in each, so that equal texts are made once. */
interface PartTexts {
  readonly part: KeyPart;
  readonly codes: ArrayLike<number>;
  readonly texts: readonly (string | undefined)[];
}

const TEXT_FIELDS: readonly Field[] = ['host', 'path', 'method', 'scheme', 'protocol', 'agent', 'referrer', 'user'];
const NO_CLIENT = { address: undefined, source: 'peer', how: 'no-peer' } as const;

/** Reads what the rows of a block are counted under by a limit, by their place in the block. */
export function keyReader(limit: Limit, block: KeyedBlock): (at: number) => LimitKey {
  const parts = limit.per.map((part) => partTexts(part, block));
  const times = numberColumn(block.table, 'time');
  const bytes = limit.counts === 'bytes' ? numberColumn(block.table, 'bytes') : undefined;
  return (at) => {
    const row = block.rows[at] as number;
    const texts = parts.map(({ codes, texts: all }) => all[codes[at] as number]);
    const [time, amount] = [times?.[row] ?? Number.NaN, limit.counts === 'bytes' ? (bytes?.[row] ?? Number.NaN) : 1];
    const unseen: Unseen[] = parts.filter((_, index) => texts[index] === undefined).map(({ part }) => fieldName(part));
    if (Number.isNaN(time)) unseen.push('time');
    if (Number.isNaN(amount)) unseen.push('bytes');
    return unseen.length > 0 ? { unseen: [...new Set(unseen)] } : { key: texts.join(BETWEEN_PARTS), time, amount };
  };
}

function partTexts(part: KeyPart, block: KeyedBlock): PartTexts {
  const { table, rows, clients } = block;
  const text = (subject: Partial<Subject>) =>
    keyPart(part, { request: makeRequest({}), client: NO_CLIENT, origin: undefined, ...subject });
  if (part.field === 'client' || part.field === 'country') return clientTexts(part, clients, text);
  if (TEXT_FIELDS.includes(part.field)) {
    const rowsOf = combine(table, [part.field], rows);
    const first = new ChunkRows(table);
    // Any row of a text shows that text.
    const shown = new Map<number, number>();
    rowsOf.codes.forEach((code, at) => {
      if (!shown.has(code)) shown.set(code, rows[at] as number);
    });
    const texts = rowsOf.texts.map((_, code) => text({ request: first.request(shown.get(code) as number) }));
    return { part, codes: rowsOf.codes, texts };
  }
  return eachRow(part, block);
}

/** The client itself, or its country; each distinct client is told once. */
function clientTexts(
  part: KeyPart,
  clients: ResolvedClients,
  text: (subject: Partial<Subject>) => string | undefined,
): PartTexts {
  const byCode = new Map<number, number>();
  clients.classes.forEach((number, at) => {
    byCode.set(clients.codes[at] as number, number);
  });
  const countryOf = (code: number) => clients.countryOf(byCode.get(code) ?? -1);
  const texts = Array.from({ length: clients.count }, (_, code) => {
    const country = countryOf(code);
    const origin = country === undefined ? undefined : ({ country, by: 'data' } as const);
    return text({ client: { ...NO_CLIENT, address: clients.at(code) }, origin });
  });
  return { part, codes: clients.codes, texts };
}

/** Fields that hang on several columns are read row by row. */
function eachRow(part: KeyPart, { table, rows, policy, prepared }: KeyedBlock): PartTexts {
  const chunk = new ChunkRows(table);
  const texts = Array.from(rows, (row) => keyPart(part, subjectOf(chunk.request(row), policy, prepared)));
  return { part, codes: Uint32Array.from(rows.keys()), texts };
}
