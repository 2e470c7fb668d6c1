import type { ClientFinding, Request } from '../../../request/index.js';
import type { Axis } from '../axis.js';
import type { ClassColumn } from '../class-column.js';
import type { ClassTable, Matched } from '../classes.js';
import type { AddressClass, Partition } from '../partition/partition.js';
import { AddressClasses } from './address-classes.js';
import { addressesIn } from './addresses.js';
import type { Block } from './block.js';
import type { Source, SourcePlan } from './source.js';

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

class AddressSource implements Source {
  readonly columns: undefined;
  readonly #of: AddressSourcePlan['of'];
  readonly #classes: AddressClasses;

  constructor(plan: AddressSourcePlan, words: number) {
    this.#of = plan.of;
    this.#classes = new AddressClasses(plan, words);
  }

  get classes(): ClassTable {
    return this.#classes.table;
  }

  one(request: Request, client: ClientFinding): number {
    const address = this.#of === 'client' ? client.address : request[this.#of];
    return address === undefined ? this.#classes.unseen : this.#classes.of(address);
  }

  rows({ table, rows, clients }: Block): ClassColumn {
    if (this.#of === 'client')
      return { codes: clients.codes, classes: this.#classes.ofCodes(clients.dictionary, clients.classes) };
    const { codes, dictionary } = addressesIn(table, this.#of, rows);
    return { codes, classes: this.#classes.ofCodes(dictionary) };
  }
}
