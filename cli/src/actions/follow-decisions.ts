import { setTimeout as sleep } from 'node:timers/promises';
import type { DecisionsQuery, RecordedBody } from '@jade-fence/contract';
import type { Context } from '../context.js';
import type { ExitCode } from '../exit-code.js';
import { EXIT } from '../exit-code.js';
import { Failure } from '../failure.js';
import { formatDecisions } from '../output/decisions.js';
import { safe } from '../output/safe.js';

const PAUSE_MS = 1000;
/** Of what came within one pause, so many are looked at; more are said to be left out. */
const MOST = 1000;
const FEW = 10;

/**
 * Shows the newest decisions, and then those that come, the oldest first. Never ends by itself. A service that is away
 * is waited for.
 */
export async function followDecisions(context: Context, query: DecisionsQuery): Promise<ExitCode> {
  const { client, json, terminal } = context;
  let newest = 0;
  let limit = query.limit ?? FEW;
  for (;;) {
    const page = await client.call('GET /decisions', { query: { ...query, limit } }).catch((error) => {
      if (error instanceof Failure && error.exitCode === EXIT.service) return error;
      throw error;
    });
    if (page instanceof Failure) terminal.err(safe(page.body.detail));
    else {
      const fresh = page.decisions.filter(({ decision }) => decision > newest).reverse();
      if (fresh.length === MOST && newest > 0)
        terminal.err('Decisions come faster than they are shown; some are left out.');
      if (fresh.length > 0) show(fresh);
      newest = fresh.at(-1)?.decision ?? newest;
      limit = MOST;
    }
    await sleep(PAUSE_MS);
  }

  function show(fresh: readonly RecordedBody[]): void {
    if (json) for (const each of fresh) terminal.out(JSON.stringify(each));
    else {
      const text = formatDecisions({ decisions: fresh, next: null }, terminal);
      // The titles of the columns stand above the first ones alone.
      terminal.out(newest === 0 ? text : text.slice(text.indexOf('\n') + 1));
    }
  }
}
