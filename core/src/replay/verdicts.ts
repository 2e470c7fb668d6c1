import { type Column, type ColumnTable, makeBits, setBit, TextColumnBuilder } from '../column/index.js';
import type { Decision } from '../engine/index.js';
import { UNCOVERED } from './slot.js';

/** The roles of rules that a replay remembers for each request, beside the one that decided. */
export const SIDE_ROLES = ['observed', 'overtaken', 'blind'] as const;
export type SideRole = (typeof SIDE_ROLES)[number];

/** The column of the rows on which the rule of a slot had a role. */
export const sideColumn = (role: SideRole, slot: number): string => `${role}.${slot}`;

/** One row's decision, as it is kept. */
export interface Judged {
  readonly decision: Decision | undefined;
  /** The number of the first slot of the policy that decided. */
  readonly firstSlot: number;
  readonly client: string | undefined;
  readonly country: string | undefined;
}

/**
 * Gathers the decisions of one chunk, row for row: `slot` (which decided), `country` and `client` (as the policy
 * resolved them), and the rows on which each rule was observed, overtaken or blind.
 */
export class VerdictsBuilder {
  readonly #rows: number;
  readonly #slot: Uint16Array;
  readonly #country: TextColumnBuilder;
  readonly #client: TextColumnBuilder;
  readonly #sides = new Map<string, Uint8Array>();

  constructor(rows: number) {
    this.#rows = rows;
    this.#slot = new Uint16Array(rows).fill(UNCOVERED);
    this.#country = new TextColumnBuilder(rows);
    this.#client = new TextColumnBuilder(rows);
  }

  set(row: number, { decision, firstSlot, client, country }: Judged): void {
    if (client !== undefined) this.#client.set(row, client);
    if (country !== undefined) this.#country.set(row, country);
    if (!decision) return;
    this.#slot[row] = firstSlot + decision.decidedBy;
    decision.outcomes.forEach(({ role, unseen }, index) => {
      if (role === 'observed' || role === 'overtaken') this.#side(role, firstSlot + index, row);
      if (unseen.length > 0) this.#side('blind', firstSlot + index, row);
    });
  }

  build(): ColumnTable {
    const columns = new Map<string, Column>([
      ['slot', { type: 'small', values: this.#slot }],
      ['country', this.#country.build(this.#rows)],
      ['client', this.#client.build(this.#rows)],
    ]);
    for (const [name, bits] of this.#sides) columns.set(name, { type: 'bits', bits });
    return { rows: this.#rows, columns };
  }

  #side(role: SideRole, slot: number, row: number): void {
    const name = sideColumn(role, slot);
    let bits = this.#sides.get(name);
    if (!bits) {
      bits = makeBits(this.#rows);
      this.#sides.set(name, bits);
    }
    setBit(bits, row);
  }
}
