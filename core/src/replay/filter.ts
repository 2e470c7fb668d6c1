import { type ColumnTable, hasBit } from '../column/index.js';
import type { Verdict } from '../policy/index.js';
import { type Slot, UNCOVERED } from './slot.js';
import { type SideRole, sideColumn } from './verdicts.js';

/** Which requests of a replay to show; what is not given does not matter. */
export interface RequestFilter {
  readonly verdict?: Verdict | 'uncovered' | undefined;
  readonly policy?: string | undefined;
  /** A rule's name, or `default`. */
  readonly rule?: string | undefined;
  /** What the rule did; without it `decided`. */
  readonly role?: 'decided' | SideRole | undefined;
  /** A country code, `private`, `unknown`, or `unseen`. */
  readonly country?: string | undefined;
}

/** A slot with the verdict that it gives. */
export type JudgingSlot = Slot & { readonly then: Verdict };

type RowTest = (row: number) => boolean;

/** Finds the rows of a chunk's verdicts that a filter asks for, in order, from the row `from` on and at most `most`. */
export function filterRows(
  verdicts: ColumnTable,
  slots: readonly JudgingSlot[],
  filter: RequestFilter,
  from: number,
  most: number,
): number[] {
  const tests = [slotTest(verdicts, slots, filter), countryTest(verdicts, filter), roleTest(verdicts, slots, filter)];
  const needed = tests.filter((test) => test !== undefined);
  const rows: number[] = [];
  for (let row = from; row < verdicts.rows && rows.length < most; row++)
    if (needed.every((test) => test(row))) rows.push(row);
  return rows;
}

/** The numbers of the slots that `policy` and `rule` name. */
export function namedSlots(slots: readonly Slot[], filter: RequestFilter): number[] {
  const name = (slot: Slot) => slot.rule ?? 'default';
  return slots.flatMap((slot, number) => {
    const named = filter.rule === undefined || name(slot) === filter.rule;
    return named && (filter.policy === undefined || slot.policy === filter.policy) ? [number] : [];
  });
}

/** The slot that decided must give the verdict, and be the one asked for unless the rule had another role. */
function slotTest(verdicts: ColumnTable, slots: readonly JudgingSlot[], filter: RequestFilter): RowTest | undefined {
  const byRule = filter.rule !== undefined && (filter.role ?? 'decided') === 'decided';
  if (filter.verdict === undefined && !byRule && filter.policy === undefined) return undefined;
  const named = new Set(namedSlots(slots, byRule ? filter : { policy: filter.policy }));
  const wanted = new Set([...named].filter((slot) => !filter.verdict || slots[slot]?.then === filter.verdict));
  if (filter.verdict === 'uncovered' && filter.policy === undefined && !byRule) wanted.add(UNCOVERED);
  const column = verdicts.columns.get('slot');
  return (row) => column?.type === 'small' && wanted.has(column.values[row] as number);
}

function roleTest(verdicts: ColumnTable, slots: readonly Slot[], filter: RequestFilter): RowTest | undefined {
  const role = filter.role ?? 'decided';
  if (role === 'decided') return undefined;
  const columns = namedSlots(slots, filter)
    .map((slot) => verdicts.columns.get(sideColumn(role, slot)))
    .filter((column) => column?.type === 'bits');
  return (row) => columns.some((column) => hasBit(column.bits, row));
}

function countryTest(verdicts: ColumnTable, { country }: RequestFilter): RowTest | undefined {
  if (country === undefined) return undefined;
  const column = verdicts.columns.get('country');
  if (column?.type !== 'text') return () => false;
  const wanted = country === 'unseen' ? 0 : column.dictionary.indexOf(country) + 1;
  if (wanted === 0 && country !== 'unseen') return () => false;
  return (row) => column.codes[row] === wanted;
}
