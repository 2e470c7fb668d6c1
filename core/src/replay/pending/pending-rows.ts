import type { ColumnTable } from '../../column/index.js';
import { numberColumn, type Unseen } from '../../engine/index.js';
import { ChunkRows } from '../../log/index.js';
import { BoundedMap } from '../../memo/index.js';
import type { Rule } from '../../policy/index.js';
import type { Request } from '../../request/index.js';
import type { PolicyRun } from '../policy-run.js';
import { type KeyedBlock, keysOf } from './keys.js';

/**
 * The rows of a chunk whose outcome depends on limits of one policy. Plain data that can go to another thread: the
 * limit operator needs no chunk, only an example of each class of rows and the keys that each row counts under.
 */
export interface PendingRows {
  /** The policy's place among those of the run. */
  readonly policy: number;
  /** A request of each class; requests of one class match the same rules of the policy. */
  readonly examples: readonly Request[];
  /** For each row the place of its class among `examples`. */
  readonly classes: Int32Array;
  /** Milliseconds since 1970; −Infinity where it is not seen, so that no limit counts the row. */
  readonly times: Float64Array;
  /** The amounts that limits of bytes sum up; undefined when the policy has none. */
  readonly amounts: Float64Array | undefined;
  /** For each limit of the policy, in the order of the rules, what the rows are counted under. */
  readonly keys: readonly {
    readonly numbers: Int32Array;
    readonly texts: readonly string[];
    readonly unseen: readonly (readonly Unseen[])[];
  }[];
}

const MOST_EXAMPLES = 20_000;

/** Keeps an example of each class that a policy's rows have waited in, so that it is read from a chunk once. */
export class Examples {
  readonly #byNode = new BoundedMap<number, Request>(MOST_EXAMPLES);

  /** The rows at these places of the block, with their classes as the judge numbered them. */
  pendingRows(
    policy: PolicyRun,
    number: number,
    block: KeyedBlock,
    nodes: Uint32Array,
    places: Int32Array,
  ): PendingRows {
    const rules = policy.policy.rules.filter((rule): rule is Rule & { limit: object } => rule.limit !== undefined);
    const times = numberColumn(block.table, 'time');
    const bytes = rules.some(({ limit }) => limit.counts === 'bytes') ? numberColumn(block.table, 'bytes') : undefined;
    return {
      policy: number,
      ...this.#classes(block, nodes, places),
      times: seenOr(times, block.rows, places, Number.NEGATIVE_INFINITY),
      amounts: bytes && seenOr(bytes, block.rows, places, 0),
      keys: rules.map(({ limit }) => keysOf(limit, block, places)),
    };
  }

  #classes(
    { table, rows }: KeyedBlock,
    nodes: Uint32Array,
    places: Int32Array,
  ): Pick<PendingRows, 'examples' | 'classes'> {
    const examples: Request[] = [];
    const known = new Map<number, number>();
    const classes = new Int32Array(places.length);
    let last = -1;
    let lastNumber = -1;
    for (let at = 0; at < places.length; at++) {
      const place = places[at] as number;
      const node = nodes[place] as number;
      if (node !== last) {
        last = node;
        lastNumber = known.get(node) ?? examples.push(this.#example(node, table, rows[place] as number)) - 1;
        known.set(node, lastNumber);
      }
      classes[at] = lastNumber;
    }
    return { examples, classes };
  }

  #example(node: number, table: ColumnTable, row: number): Request {
    return this.#byNode.of(node, () => new ChunkRows(table).request(row));
  }
}

/** The values of the rows at the places; `instead` for rows without one. */
function seenOr(
  values: Float64Array | undefined,
  rows: Uint32Array,
  places: Int32Array,
  instead: number,
): Float64Array {
  const seen = new Float64Array(places.length).fill(instead);
  if (values === undefined) return seen;
  for (let at = 0; at < places.length; at++) {
    const value = values[rows[places[at] as number] as number] as number;
    if (!Number.isNaN(value)) seen[at] = value;
  }
  return seen;
}
