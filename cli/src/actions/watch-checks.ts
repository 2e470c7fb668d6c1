import type { ChecksBody, ChecksQuery } from '@jade-fence/contract';
import { type CheckedCell, failingCells, failingChange } from '@jade-fence/core/checking';
import type { Context } from '../context.js';
import { safe } from '../output/safe.js';
import type { Paint } from '../output/terminal.js';
import { repeat } from './repeat.js';

/**
 * Runs checks again and again, a line each time, and shows at which time each answer began to fail and began to hold
 * again; for the moment of publishing. Never ends by itself.
 */
export async function watchChecks(
  context: Context,
  query: { readonly [key in keyof ChecksQuery]: ChecksQuery[key] | undefined },
  seconds: number,
): Promise<never> {
  const { client, json, terminal } = context;
  let failing: ReadonlyMap<string, CheckedCell> = new Map();
  let hasFailed = false;

  function show(answer: ChecksBody): void {
    const at = new Date().toISOString();
    const now = failingCells(answer.checks);
    const { began, mended } = failingChange(failing.keys(), now.keys());
    if (json) terminal.out(JSON.stringify({ at, failing: now.size, began, mended }));
    else
      for (const line of linesOf({ at, answer, failing: now, began, mended, isFirst: !hasFailed }, terminal.paint))
        terminal.out(line);
    hasFailed ||= began.length > 0;
    failing = now;
  }

  const ask = () => client.call('GET /checks', { query: { ...query } });
  return repeat(context, { ask, take: show, pauseMs: seconds * 1000 });
}

interface Seen {
  readonly at: string;
  readonly answer: ChecksBody;
  readonly failing: ReadonlyMap<string, CheckedCell>;
  /** Of those that fail, the ones that did not before. */
  readonly began: readonly string[];
  readonly mended: readonly string[];
  /** Whether none has failed so far. */
  readonly isFirst: boolean;
}

function linesOf({ at, answer, failing, began, mended, isFirst }: Seen, paint: Paint): string[] {
  const all = answer.checks.reduce((sum, { cells }) => sum + cells.length, 0);
  const held = all - answer.failing;
  const time = `${at.slice(0, 10)} ${at.slice(11, 19)}`;
  const head = `${time}  ${held} of ${all} answers are as expected`;
  return [
    answer.failing === 0 ? `${paint.green('✓')} ${head}` : `${paint.red('✗')} ${head}`,
    ...began.map((name, index) => {
      const { expected, verdict } = failing.get(name) as CheckedCell;
      const first = isFirst && index === 0 ? paint.bold('  the first to fail') : '';
      return `    ${safe(name)}: expected ${expected.verdict}, got ${verdict}${first}`;
    }),
    ...mended.map((name) => `    ${safe(name)}: as expected again`),
  ];
}
