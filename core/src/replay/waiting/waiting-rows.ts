import { numberColumn, type Unseen } from '../../engine/index.js';
import { ChunkRows } from '../../log/index.js';
import type { Rule } from '../../policy/index.js';
import type { Request } from '../../request/index.js';
import type { PolicyRun } from '../policy-run.js';
import { type KeyedBlock, keysOf } from './keys.js';

/**
 * The rows of a chunk whose outcome hangs on limits of one policy. Plain data, which can go to another thread: who
 * settles them sees no chunk, but an example of each class of rows, and what each row is counted under.
 */
export interface WaitingRows {
  /** The policy's place among those of the run. */
  readonly policy: number;
  /** A request of each class; requests of one class are alike to every rule of the policy. */
  readonly examples: readonly Request[];
  /** For each row the place of its class among `examples`. */
  readonly classes: Int32Array;
  /** Milliseconds since 1970; −Infinity where it is not seen, so that no limit counts the row. */
  readonly times: Float64Array;
  /** What limits of bytes sum up; undefined where the policy has none. */
  readonly amounts: Float64Array | undefined;
  /** For each limit of the policy, in the order of the rules, what the rows are counted under. */
  readonly keys: readonly {
    readonly numbers: Int32Array;
    readonly texts: readonly string[];
    readonly unseen: readonly (readonly Unseen[])[];
  }[];
}

/** Keeps an example of each class that a policy's rows have waited in, so that it is read from a chunk once. */
export class Examples {
  readonly #byNode = new Map<number, Request>();

  /** The rows at these places of the block, with their classes as the judge numbered them. */
  waitingRows(
    policy: PolicyRun,
    number: number,
    block: KeyedBlock,
    nodes: Int32Array,
    places: Int32Array,
  ): WaitingRows {
    const rules = policy.policy.rules.filter((rule): rule is Rule & { limit: object } => rule.limit !== undefined);
    const times = numberColumn(block.table, 'time');
    const bytes = rules.some(({ limit }) => limit.counts === 'bytes') ? numberColumn(block.table, 'bytes') : undefined;
    const rowOf = (place: number) => block.rows[place] as number;
    return {
      policy: number,
      ...this.#classes(block, nodes, places),
      times: Float64Array.from(places, (place) => seenOr(times?.[rowOf(place)], Number.NEGATIVE_INFINITY)),
      amounts: bytes && Float64Array.from(places, (place) => seenOr(bytes[rowOf(place)], 0)),
      keys: rules.map(({ limit }) => keysOf(limit, block, places)),
    };
  }

  #classes(
    { table, rows }: KeyedBlock,
    nodes: Int32Array,
    places: Int32Array,
  ): Pick<WaitingRows, 'examples' | 'classes'> {
    const examples: Request[] = [];
    const known = new Map<number, number>();
    let chunk: ChunkRows | undefined;
    const classes = Int32Array.from(places, (place) => {
      const node = nodes[place] as number;
      let number = known.get(node);
      if (number === undefined) {
        let example = this.#byNode.get(node);
        if (example === undefined) {
          chunk ??= new ChunkRows(table);
          example = chunk.request(rows[place] as number);
          this.#byNode.set(node, example);
        }
        number = examples.push(example) - 1;
        known.set(node, number);
      }
      return number;
    });
    return { examples, classes };
  }
}

const seenOr = (value: number | undefined, instead: number): number =>
  value === undefined || Number.isNaN(value) ? instead : value;
