import type { CheckedCell, CheckedGrid } from '@jade-fence/core/checking';
import { safe } from './safe.js';
import { indent, table } from './table.js';
import type { Paint } from './terminal.js';
import { verdictWord } from './verdict.js';

/** Each check as its grid of probes and destinations, and below it what is not as expected. */
export function formatChecks(checks: readonly CheckedGrid[], paint: Paint): string {
  if (checks.length === 0) return 'The workspace has no checks.';
  return checks.map((grid) => formatGrid(grid, paint)).join('\n\n');
}

function formatGrid({ check, note, probes, destinations, cells, failing }: CheckedGrid, paint: Paint): string {
  const cellOf = (probe: string, destination: string) =>
    cells.find((cell) => cell.probe === probe && cell.destination === destination);
  const columns = [{ title: '' }, ...destinations.map((title) => ({ title }))];
  const rows = probes.map((probe) => [
    paint.bold(probe),
    ...destinations.map((destination) => formatCell(cellOf(probe, destination), paint)),
  ]);
  const held =
    failing === 0
      ? paint.green(cells.length === 1 ? 'its answer is as expected' : `all ${cells.length} answers are as expected`)
      : paint.red(`${failing} of ${cells.length} answers ${failing === 1 ? 'is' : 'are'} not as expected`);
  const head = `${paint.bold(check)}: ${held}${note === null ? '' : paint.dim(`  ${safe(note)}`)}`;
  const failed = cells.filter(({ holds }) => !holds).map((cell) => formatFailing(cell, paint));
  return [head, indent(table(columns, rows, paint), '  '), ...failed].join('\n\n');
}

function formatCell(cell: CheckedCell | undefined, paint: Paint): string {
  if (cell === undefined) return paint.dim('·');
  return `${cell.holds ? '✓' : '✗'} ${verdictWord(cell.verdict, paint)}`;
}

function formatFailing({ probe, destination, expected, summary, mends }: CheckedCell, paint: Paint): string {
  const rule = expected.rule === null ? '' : ` by ${expected.rule}`;
  return [
    `  ${paint.red('✗')} ${paint.bold(probe)} at ${paint.bold(destination)}: expected ${expected.verdict}${rule}.`,
    indent([safe(summary), ...mends.map((mend) => `→ ${safe(mend.what)}`)].join('\n'), '    '),
  ].join('\n');
}
