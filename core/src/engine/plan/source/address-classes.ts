import type { Address } from '../../../address/index.js';
import type { AddressDictionary } from '../../../column/index.js';
import type { Kernel } from '../../../kernel/index.js';
import type { Axis } from '../axis.js';
import { ClassTable, type Matched } from '../classes.js';
import { type AddressClass, classOf, type Partition } from '../partition/partition.js';
import { classesOf, UNSEEN_CLIENT } from './addresses.js';
import { unseenClass } from './source.js';

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

/** More pairs of classes than this are kept in a map, so that memory stays bounded. */
const MOST_PAIRS = 2 ** 22;

/** Numbers addresses by what the rules and the lists say of them. */
export class AddressClasses {
  readonly table: ClassTable;
  readonly unseen: number;
  readonly #plan: AddressSourcePlan;
  /** For each pair of a class of the shared partition and one of the own, the class of both; -1 is not asked yet. */
  readonly #byPair: Int32Array;
  #copied: { readonly kernel: Kernel; readonly pointer: number } | undefined;
  /** The same where there are too many pairs for a table. */
  readonly #farPairs = new Map<number, number>();

  constructor(plan: AddressSourcePlan, words: number) {
    this.table = new ClassTable(plan.axes, words);
    this.#plan = plan;
    this.unseen = unseenClass(this.table);
    const pairs = plan.shared.classes.length * plan.own.classes.length;
    this.#byPair = new Int32Array(pairs <= MOST_PAIRS ? pairs : 0).fill(-1);
  }

  /** The class of one address. */
  of(address: Address): number {
    const { shared, own } = this.#plan;
    return this.#ofPair(classOf(shared, address), classOf(own, address));
  }

  /** True when rules name no address themselves, so that the class in the shared partition says all. */
  get areShared(): boolean {
    return this.#plan.own.classes.length === 1;
  }

  /** The class of an address by its class in the shared partition alone, where that says all. */
  ofShared(inShared: number): number {
    return this.#ofPair(inShared, 0);
  }

  /** The class of several addresses together, any of which a term may match; of their number, the order is no matter. */
  ofAll(addresses: readonly Address[]): number {
    const [shared, own] = [this.#plan.shared, this.#plan.own];
    const matches = addresses.map((address) =>
      this.#plan.match(
        shared.classes[classOf(shared, address)] as AddressClass,
        own.classes[classOf(own, address)] as AddressClass,
      ),
    );
    return this.table.number(this.#plan.axes.map((_, axis) => anyOf(matches.map((match) => match[axis]))));
  }

  /** The classes of all codes of a dictionary; `inShared` are theirs in the shared partition, where they are known. */
  ofCodes(
    dictionary: AddressDictionary,
    kernel: Kernel,
    inShared: Int32Array = classesOf(dictionary, this.#plan.shared),
  ): Int32Array {
    const { own } = this.#plan;
    const width = own.classes.length;
    const count = inShared.length;
    const inOwn = width > 1 ? classesOf(dictionary, own) : new Int32Array(count);
    if (this.#byPair.length === 0)
      return inShared.map((ofShared, code) =>
        ofShared === UNSEEN_CLIENT ? this.unseen : this.#ofPair(ofShared, inOwn[code] as number),
      );
    kernel.reset();
    const [shareds, owned, into] = [kernel.put(inShared), kernel.put(inOwn), kernel.take(count * 4)];
    const pointer = this.#pointerIn(kernel);
    const pairs = kernel.ints(pointer, this.#byPair.length);
    let code = 0;
    while (code < count) {
      code = kernel.calls.pairClasses(shareds, owned, width, pointer, this.unseen, code, count, into);
      if (code === count) break;
      const [ofShared, ofOwn] = [inShared[code] as number, inOwn[code] as number];
      pairs[ofShared * width + ofOwn] = this.#ofPair(ofShared, ofOwn);
    }
    return kernel.ints(into, count).slice();
  }

  /** A pointer to the table of pairs in the kernel, which is copied there on first use. */
  #pointerIn(kernel: Kernel): number {
    if (this.#copied?.kernel !== kernel) {
      this.#copied = { kernel, pointer: kernel.keep(this.#byPair) };
    }
    return this.#copied.pointer;
  }

  #ofPair(ofShared: number, ofOwn: number): number {
    const { shared, own, match } = this.#plan;
    const pair = ofShared * own.classes.length + ofOwn;
    const known = this.#byPair.length > 0 ? (this.#byPair[pair] as number) : (this.#farPairs.get(pair) ?? -1);
    if (known >= 0) return known;
    const number = this.table.number(
      match(shared.classes[ofShared] as AddressClass, own.classes[ofOwn] as AddressClass),
    );
    if (this.#byPair.length > 0) this.#byPair[pair] = number;
    else this.#farPairs.set(pair, number);
    return number;
  }
}

/** The terms that any of some values matches; unseen where one of the values is. */
function anyOf(all: readonly Matched[]): Matched {
  const matched = new Set<number>();
  for (const each of all) {
    if (each === undefined) return undefined;
    for (const term of each.matched) matched.add(term);
  }
  return { matched: [...matched] };
}
