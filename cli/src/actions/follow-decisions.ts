import type { DecisionsQuery, RecordedBody } from '@jade-fence/contract';
import type { Context } from '../context.js';
import { formatDecisions } from '../output/decisions.js';
import { repeat } from './repeat.js';

const PAUSE_MS = 1000;
/** So many are shown to begin with. */
const FEW = 10;
const PAGE = 100;
/** Of what came within one pause, so many are shown; more are said to be left out. */
const MOST = 1000;

/** Shows the newest decisions, and then those that come, the oldest first. Never ends by itself. */
export async function followDecisions(context: Context, { limit = FEW, ...query }: DecisionsQuery): Promise<never> {
  const { client, json, terminal } = context;
  let newest: number | undefined;

  /** The newest first. */
  async function fresh(): Promise<RecordedBody[]> {
    if (newest === undefined)
      return [...(await client.call('GET /decisions', { query: { ...query, limit } })).decisions];
    const seen = newest;
    const found: RecordedBody[] = [];
    for (let after: number | undefined; found.length < MOST; ) {
      const { decisions, next } = await client.call('GET /decisions', { query: { ...query, after, limit: PAGE } });
      const unseen = decisions.filter(({ decision }) => decision > seen);
      found.push(...unseen);
      if (next === null || unseen.length < decisions.length) return found;
      after = next;
    }
    terminal.err('Decisions come faster than they are shown; some are left out.');
    return found;
  }

  function show(decisions: readonly RecordedBody[]): void {
    const shown = decisions.toReversed();
    if (json) for (const each of shown) terminal.out(JSON.stringify(each));
    else if (shown.length > 0) {
      const text = formatDecisions({ decisions: shown, next: null }, terminal);
      // The titles of the columns come above the first ones alone.
      terminal.out(newest ? text.slice(text.indexOf('\n') + 1) : text);
    }
    newest = decisions[0]?.decision ?? newest ?? 0;
  }

  return repeat(context, { ask: fresh, take: show, pauseMs: PAUSE_MS });
}
