import { type Address, parseAddress } from '../../../address/index.js';
import type { Subject } from '../../subject.js';
import type { Axis } from '../axis.js';
import { ClassTable, type Matched } from '../classes.js';
import type { AddressClass, Partition } from '../partition/partition.js';
import { type Block, combine } from './block.js';
import { type Source, type SourcePlan, unseenClass } from './source.js';

/** A source whose value is an address, and for the client its country too. */
export interface AddressSourcePlan {
  readonly axes: readonly Axis[];
  readonly of: 'client' | 'peer' | 'destination';
  /** The lists and the country data of the workspace. */
  readonly shared: Partition;
  /** The addresses that the rules themselves name. */
  readonly own: Partition;
  /** What the classes of an address in both partitions do to each axis. */
  readonly match: (shared: AddressClass, own: AddressClass) => readonly Matched[];
}

export const addressSource = (plan: AddressSourcePlan): SourcePlan => ({
  axes: plan.axes,
  start: (words) => new AddressSource(plan, words),
});

class AddressSource implements Source {
  readonly classes: ClassTable;
  readonly #plan: AddressSourcePlan;
  readonly #unseen: number;
  /** The class for each pair of classes, one of each partition. */
  readonly #byPair = new Map<number, number>();

  constructor(plan: AddressSourcePlan, words: number) {
    this.classes = new ClassTable(plan.axes, words);
    this.#plan = plan;
    this.#unseen = unseenClass(this.classes);
  }

  one(subject: Subject): number {
    const { of } = this.#plan;
    return this.#classOf(of === 'client' ? subject.client.address : subject.request[of]);
  }

  rows({ table, rows, clients }: Block, into: Int32Array): void {
    const { of } = this.#plan;
    const { codes, addresses } = of === 'client' ? clients : this.#addresses(table, of, rows);
    const classes = Int32Array.from(addresses, (address) => this.#classOf(address));
    for (let at = 0; at < rows.length; at++) into[at] = classes[codes[at] as number] as number;
  }

  #addresses(table: Block['table'], column: string, rows: Uint32Array): Block['clients'] {
    const { codes, texts } = combine(table, [column], rows);
    return { codes, addresses: texts.map(([text]) => (text === undefined ? undefined : parseAddress(text))) };
  }

  #classOf(address: Address | undefined): number {
    if (address === undefined) return this.#unseen;
    const { shared, own, match } = this.#plan;
    const [ofShared, ofOwn] = [shared.classOf(address), own.classOf(address)];
    const pair = ofShared * own.classes.length + ofOwn;
    let number = this.#byPair.get(pair);
    if (number === undefined) {
      number = this.classes.number(match(shared.classes[ofShared] as AddressClass, own.classes[ofOwn] as AddressClass));
      this.#byPair.set(pair, number);
    }
    return number;
  }
}
