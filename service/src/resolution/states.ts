import { type Answer, type AnswerTable, NO_RESOLUTIONS, type Resolutions } from '@jade-fence/core/resolution';
import { compileLoads, unpack } from './packed.js';

/** Loads of up to so many hosts are kept beside the table of the others, which need not be made again for them. */
const FEW_HOSTS = 5000;

/** A load, with its answers as they are kept. */
export interface PackedLoad {
  readonly id: number;
  readonly hosts: number;
  readonly data: Uint8Array;
}

type Load = Pick<PackedLoad, 'id' | 'hosts'>;

/** Where loads are fetched from. Given, since worker threads have no database. */
export interface StoredLoads {
  /** The loads that the state with the number is made of, the oldest first. */
  readonly of: (id: number) => Promise<readonly Load[]>;
  /** The packed answers of loads, in the order of the numbers. */
  readonly packed: (ids: readonly number[]) => Promise<Uint8Array[]>;
}

/** What was last made. */
interface Made {
  /** The loads of the table, and those of `later`, by their numbers. */
  readonly base: readonly number[];
  readonly rest: readonly number[];
  readonly resolutions: Resolutions;
}

/** Makes states of the resolutions out of loads. What a state has in common with the one before is not made again. */
export class ResolutionStates {
  #last: Made | undefined;

  /**
   * The state up to the load with the number.
   *
   * @param compile makes the table of loads; given, since that takes long and is for another process to do
   */
  async load(
    stored: StoredLoads,
    id: number,
    compile: (loads: readonly Uint8Array[]) => Promise<AnswerTable>,
  ): Promise<Resolutions> {
    const loads = await stored.of(id);
    const { base, rest } = parted(loads);
    const table = this.#table(base) ?? (await compile(await stored.packed(base)));
    const known = this.#later(base, rest);
    const missing = rest.slice(known.count);
    const later = withLater(known.later, await stored.packed(missing));
    return this.#keep(base, rest, table, later);
  }

  /** The same of loads that are here. */
  prepare(loads: readonly PackedLoad[]): Resolutions {
    const { base, rest } = parted(loads);
    const dataOf = (ids: readonly number[]) => loads.filter(({ id }) => ids.includes(id)).map(({ data }) => data);
    const table = this.#table(base) ?? compileLoads(dataOf(base));
    const known = this.#later(base, rest);
    return this.#keep(base, rest, table, withLater(known.later, dataOf(rest.slice(known.count))));
  }

  letGo(): void {
    this.#last = undefined;
  }

  #table(base: readonly number[]): AnswerTable | undefined {
    if (base.length === 0) return NO_RESOLUTIONS.table;
    return this.#last && same(this.#last.base, base) ? this.#last.resolutions.table : undefined;
  }

  /** Later answers that the last state has already, and of how many of the loads they are. */
  #later(base: readonly number[], rest: readonly number[]): { later: ReadonlyMap<string, Answer>; count: number } {
    const last = this.#last;
    const goesOn = last && same(last.base, base) && same(last.rest, rest.slice(0, last.rest.length));
    return goesOn ? { later: last.resolutions.later, count: last.rest.length } : { later: new Map(), count: 0 };
  }

  #keep(
    base: readonly number[],
    rest: readonly number[],
    table: AnswerTable,
    later: ReadonlyMap<string, Answer>,
  ): Resolutions {
    const resolutions = { table, later, state: rest.at(-1) ?? base.at(-1) ?? 0 };
    this.#last = { base, rest, resolutions };
    return resolutions;
  }
}

/** The loads up to the last large one, and those behind it. */
function parted(loads: readonly Load[]): { readonly base: readonly number[]; readonly rest: readonly number[] } {
  const ids = loads.map(({ id }) => id);
  const large = loads.findLastIndex(({ hosts }) => hosts > FEW_HOSTS);
  return { base: ids.slice(0, large + 1), rest: ids.slice(large + 1) };
}

function withLater(later: ReadonlyMap<string, Answer>, loads: readonly Uint8Array[]): ReadonlyMap<string, Answer> {
  if (loads.length === 0) return later;
  const all = new Map(later);
  for (const load of loads) for (const answer of unpack(load)) all.set(answer.host, answer);
  return all;
}

const same = (a: readonly number[], b: readonly number[]): boolean =>
  a.length === b.length && a.every((each, at) => each === b[at]);
