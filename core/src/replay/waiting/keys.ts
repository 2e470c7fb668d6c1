import { type ColumnTable, WordTable } from '../../column/index.js';
import { type Field, fieldName } from '../../condition/index.js';
import {
  BETWEEN_PARTS,
  combine,
  keyPart,
  numberColumn,
  type Prepared,
  type Subject,
  subjectOf,
  type Unseen,
} from '../../engine/index.js';
import type { KeyPart, Limit } from '../../limit/index.js';
import { ChunkRows } from '../../log/index.js';
import type { Policy } from '../../policy/index.js';
import { makeRequest } from '../../request/index.js';
import type { ResolvedClients } from '../clients.js';

/** What the keys of a block's rows are read from. */
export interface KeyedBlock {
  readonly table: ColumnTable;
  readonly rows: Uint32Array;
  readonly clients: ResolvedClients;
  readonly policy: Policy;
  readonly prepared: Prepared;
}

/** What some rows are counted under by one limit. */
export interface RowKeys {
  /** For each row the number of its key among `texts`; −1 − n where what is told by entry n of `unseen` is missing. */
  readonly numbers: Int32Array;
  readonly texts: readonly string[];
  readonly unseen: readonly (readonly Unseen[])[];
}

/** One part of the keys: the number of its text for each place of the block. */
interface PartTexts {
  readonly part: KeyPart;
  readonly codes: ArrayLike<number>;
  readonly textOf: (code: number) => string | undefined;
}

const TEXT_FIELDS: readonly Field[] = ['host', 'path', 'method', 'scheme', 'protocol', 'agent', 'referrer', 'user'];
const NO_CLIENT = { address: undefined, source: 'peer', how: 'no-peer' } as const;
/** Bits of what beside the parts is not seen. */
const NO_TIME = 1;
const NO_AMOUNT = 2;

/** Reads what rows are counted under by a limit, given by their places in the block. Equal keys are made once. */
export function keysOf(limit: Limit, block: KeyedBlock, places: Int32Array): RowKeys {
  const parts = limit.per.map((part) => partTexts(part, block));
  const times = numberColumn(block.table, 'time');
  const bytes = limit.counts === 'bytes' ? numberColumn(block.table, 'bytes') : undefined;
  const words = new Int32Array(parts.length + 1);
  const table = new WordTable(words.length);
  const texts: string[] = [];
  const unseen: Unseen[][] = [];
  const known: number[] = [];
  const numbers = new Int32Array(places.length);
  for (let at = 0; at < places.length; at++) {
    const place = places[at] as number;
    const row = block.rows[place] as number;
    parts.forEach(({ codes }, index) => {
      words[index] = codes[place] as number;
    });
    const noTime = times === undefined || Number.isNaN(times[row]);
    const noAmount = limit.counts === 'bytes' && (bytes === undefined || Number.isNaN(bytes[row]));
    words[parts.length] = (noTime ? NO_TIME : 0) | (noAmount ? NO_AMOUNT : 0);
    const combination = table.number(words);
    if (combination === known.length) {
      const found = parts.map(({ textOf }, index) => textOf(words[index] as number));
      const missing: Unseen[] = parts
        .filter((_, index) => found[index] === undefined)
        .map(({ part }) => fieldName(part));
      if (noTime) missing.push('time');
      if (noAmount) missing.push('bytes');
      known.push(missing.length > 0 ? -unseen.push([...new Set(missing)]) : texts.push(found.join(BETWEEN_PARTS)) - 1);
    }
    numbers[at] = known[combination] as number;
  }
  return { numbers, texts, unseen };
}

function partTexts(part: KeyPart, block: KeyedBlock): PartTexts {
  const { table, rows, clients } = block;
  const text = (subject: Partial<Subject>) =>
    keyPart(part, { request: makeRequest({}), client: NO_CLIENT, origin: undefined, ...subject });
  if (part.field === 'client' || part.field === 'country') return clientTexts(part, clients, text);
  if (TEXT_FIELDS.includes(part.field)) {
    const field = part.field as 'host';
    const { codes, texts } = combine(table, [field], rows);
    return { part, codes, textOf: (code) => text({ request: makeRequest({ [field]: texts[code]?.[0] }) }) };
  }
  return eachRow(part, block);
}

/** The client itself, or its country. */
function clientTexts(
  part: KeyPart,
  clients: ResolvedClients,
  text: (subject: Partial<Subject>) => string | undefined,
): PartTexts {
  if (part.field === 'client')
    return {
      part,
      codes: clients.codes,
      textOf: (code) => text({ client: { ...NO_CLIENT, address: clients.at(code) } }),
    };
  // Classes count from −1 on, which is that of clients that are not known.
  return {
    part,
    codes: clients.classes,
    textOf: (number) => {
      const country = clients.countryOf(number);
      return text({ origin: country === undefined ? undefined : { country, by: 'data' } });
    },
  };
}

/** Fields that hang on several columns are read row by row. */
function eachRow(part: KeyPart, { table, rows, policy, prepared }: KeyedBlock): PartTexts {
  const chunk = new ChunkRows(table);
  const textOf = (at: number) => keyPart(part, subjectOf(chunk.request(rows[at] as number), policy, prepared));
  return { part, codes: Int32Array.from(rows.keys()), textOf };
}
