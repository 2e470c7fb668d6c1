import type { ClientFinding, Request } from '../../../request/index.js';
import type { ClassColumn } from '../class-column.js';
import type { ClassTable } from '../classes.js';
import { AddressClasses, type AddressSourcePlan } from './address-classes.js';
import { addressesIn } from './addresses.js';
import type { Block } from './block.js';
import type { Source, SourcePlan } from './source.js';

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

  rows({ table, rows, clients, kernel }: Block): ClassColumn {
    if (this.#of === 'client')
      return { codes: clients.codes, classes: this.#classes.ofCodes(clients.dictionary, kernel, clients.classes) };
    const { codes, dictionary } = addressesIn(table, this.#of, rows);
    return { codes, classes: this.#classes.ofCodes(dictionary, kernel) };
  }
}
