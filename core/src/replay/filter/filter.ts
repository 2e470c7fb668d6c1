import type { ColumnTable } from '../../column/index.js';
import type { Catalogue } from '../catalogue.js';
import type { Slot } from '../slot.js';
import type { Verdicts } from '../verdicts.js';
import { outcomeTest } from './outcomes.js';
import { asksForOutcome, type FilterInput, type LogFilter, type RequestFilter } from './request-filter.js';
import { CodeTest, type RowTest, rowsThatHold } from './row-test.js';
import { fieldTests, logTests } from './rows.js';

/** Finds the rows of a chunk that a filter selects, in order, from the row `from` on and at most `most`. */
export function filterRows(
  input: FilterInput,
  slots: readonly Slot[],
  filter: RequestFilter,
  from: number,
  most: number,
): number[] {
  const { verdicts } = input;
  const tests = fieldTests(input, filter);
  if (tests === undefined) return [];
  const all = asksForOutcome(filter) ? [outcomeRows(verdicts, slots, filter), ...tests] : tests;
  return rowsThatHold(all, from, verdicts.rows, most);
}

/** The rows of a chunk of a log that a filter selects, in order. */
export function selectRows(table: ColumnTable, filter: LogFilter, catalogue: Catalogue | undefined): Uint32Array {
  const tests = logTests(table, filter, catalogue);
  return Uint32Array.from(tests ? rowsThatHold(tests, 0, table.rows, Number.POSITIVE_INFINITY) : []);
}

/** Each distinct outcome is looked at once. */
function outcomeRows(verdicts: Verdicts, slots: readonly Slot[], filter: RequestFilter): RowTest {
  const wanted = outcomeTest(slots, filter);
  const byCode = Uint8Array.from(verdicts.outcomes, (outcome) => (wanted(outcome) ? 1 : 0));
  return new CodeTest(verdicts.outcomeCodes, byCode);
}
