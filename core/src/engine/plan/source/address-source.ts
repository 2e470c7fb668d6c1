import type { AddressDictionary } from '../../../column/index.js';
import type { ClientFinding, Request } from '../../../request/index.js';
import type { Axis } from '../axis.js';
import type { ClassColumn } from '../class-column.js';
import { ClassTable, type Matched } from '../classes.js';
import { type AddressClass, classOf, type Partition } from '../partition/partition.js';
import { addressesIn, classesOf, UNSEEN_CLIENT } from './addresses.js';
import type { Block } from './block.js';
import { type Source, type SourcePlan, unseenClass } from './source.js';

/** A source whose value is an address, and for the client its country too. */
export interface AddressSourcePlan {
  readonly axes: readonly Axis[];
  readonly of: 'client' | 'peer' | 'destination';
  /** The lists and the country data of the workspace. */
  readonly shared: Partition;
  /** The addresses that the rules themselves name. */
  readonly own: Partition;
  /** The terms that an address matches, axis by axis, from its classes in both partitions. */
  readonly match: (shared: AddressClass, own: AddressClass) => readonly Matched[];
}

/** A source of bit vectors over the classes of an address column. */
export const addressSource = (plan: AddressSourcePlan): SourcePlan => ({
  axes: plan.axes,
  start: (words) => new AddressSource(plan, words),
});

/** More pairs of classes than this are kept in a map, so that memory stays bounded. */
const MOST_PAIRS = 2 ** 22;

class AddressSource implements Source {
  readonly classes: ClassTable;
  readonly columns: undefined;
  readonly #plan: AddressSourcePlan;
  readonly #unseen: number;
  /** For each pair of a class of the shared partition and one of the own, the class of both; -1 is not asked yet. */
  readonly #byPair: Int32Array;
  /** The same where there are too many pairs for a table. */
  readonly #farPairs = new Map<number, number>();

  constructor(plan: AddressSourcePlan, words: number) {
    this.classes = new ClassTable(plan.axes, words);
    this.#plan = plan;
    this.#unseen = unseenClass(this.classes);
    const pairs = plan.shared.classes.length * plan.own.classes.length;
    this.#byPair = new Int32Array(pairs <= MOST_PAIRS ? pairs : 0).fill(-1);
  }

  one(request: Request, client: ClientFinding): number {
    const { of, shared, own } = this.#plan;
    const address = of === 'client' ? client.address : request[of];
    return address === undefined ? this.#unseen : this.#classOf(classOf(shared, address), classOf(own, address));
  }

  rows({ table, rows, clients }: Block): ClassColumn {
    const { of, shared } = this.#plan;
    const { codes, dictionary } = of === 'client' ? clients : addressesIn(table, of, rows);
    const inShared = of === 'client' ? clients.classes : classesOf(dictionary, shared);
    return { codes, classes: this.#byCode(inShared, this.#own(dictionary)) };
  }

  /** The classes of codes among the addresses that the rules themselves name; undefined where those are none. */
  #own(dictionary: AddressDictionary): Int32Array | undefined {
    const { own } = this.#plan;
    return own.classes.length > 1 ? classesOf(dictionary, own) : undefined;
  }

  /** The classes of codes, from their classes in both partitions. */
  #byCode(inShared: Int32Array, inOwn: Int32Array | undefined): Int32Array {
    const width = this.#plan.own.classes.length;
    const byPair = this.#byPair;
    const classes = new Int32Array(inShared.length).fill(this.#unseen);
    for (let code = 0; code < classes.length; code++) {
      const ofShared = inShared[code] as number;
      if (ofShared === UNSEEN_CLIENT) continue;
      const ofOwn = inOwn === undefined ? 0 : (inOwn[code] as number);
      const number = byPair[ofShared * width + ofOwn] as number;
      classes[code] = number >= 0 ? number : this.#classOf(ofShared, ofOwn);
    }
    return classes;
  }

  #classOf(ofShared: number, ofOwn: number): number {
    const { shared, own, match } = this.#plan;
    const pair = ofShared * own.classes.length + ofOwn;
    const known = this.#byPair.length > 0 ? (this.#byPair[pair] as number) : (this.#farPairs.get(pair) ?? -1);
    if (known >= 0) return known;
    const number = this.classes.number(
      match(shared.classes[ofShared] as AddressClass, own.classes[ofOwn] as AddressClass),
    );
    if (this.#byPair.length > 0) this.#byPair[pair] = number;
    else this.#farPairs.set(pair, number);
    return number;
  }
}
