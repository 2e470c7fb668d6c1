import type { Address } from '../../../address/index.js';
import { gathered } from '../../../column/index.js';
import type { Request } from '../../../request/index.js';
import type { Resolutions } from '../../../resolution/index.js';
import { destinationsOf } from '../../semantics/destinations.js';
import type { ClassColumn } from '../class-column.js';
import type { ClassTable } from '../classes.js';
import type { Partition } from '../partition/partition.js';
import { AddressClasses, type AddressSourcePlan } from './address-classes.js';
import type { Block } from './block.js';
import { NOT_KNOWN, SEVERAL } from './destinations.js';
import type { Source, SourcePlan } from './source.js';

/** A source of destinations that takes those that requests do not show from the resolutions of their hosts. */
export const resolvedSource = (plan: AddressSourcePlan, resolutions: Resolutions): SourcePlan => ({
  axes: plan.axes,
  start: (words) => new ResolvedSource(plan, resolutions, words),
});

const RESOLVES = { destinations: { resolve: true } };
const NOT_ASKED = -1;

class ResolvedSource implements Source {
  readonly columns: undefined;
  readonly #resolutions: Resolutions;
  readonly #shared: Partition;
  readonly #classes: AddressClasses;

  constructor(plan: AddressSourcePlan, resolutions: Resolutions, words: number) {
    this.#resolutions = resolutions;
    this.#shared = plan.shared;
    this.#classes = new AddressClasses(plan, words);
  }

  get classes(): ClassTable {
    return this.#classes.table;
  }

  /** Not remembered by host: what is known of a host may change while live decisions go on. */
  one(request: Request): number {
    return this.#of(destinationsOf(request, RESOLVES, this.#resolutions));
  }

  rows({ rows, destinations }: Block): ClassColumn {
    const codes = gathered(destinations.codes, rows);
    const inShared = destinations.classes(this.#shared);
    const classes = new Int32Array(destinations.count).fill(NOT_ASKED);
    for (let at = 0; at < codes.length; at++) {
      const code = codes[at] as number;
      if (classes[code] !== NOT_ASKED) continue;
      const shared = inShared[code] as number;
      classes[code] =
        shared === NOT_KNOWN
          ? this.#classes.unseen
          : shared === SEVERAL || !this.#classes.areShared
            ? this.#of(destinations.addresses(code))
            : this.#classes.ofShared(shared);
    }
    // A cross-product table goes over all codes, also those that no row of the block has.
    for (let code = 0; code < classes.length; code++)
      if (classes[code] === NOT_ASKED) classes[code] = this.#classes.unseen;
    return { codes, classes };
  }

  #of(addresses: readonly Address[] | undefined): number {
    if (addresses === undefined) return this.#classes.unseen;
    return addresses.length === 1 ? this.#classes.of(addresses[0] as Address) : this.#classes.ofAll(addresses);
  }
}
