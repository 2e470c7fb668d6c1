import type { Pseudonym } from '@jade-fence/core/redact';
import type { Report } from '@jade-fence/core/replay';
import type { Knex } from 'knex';
import { refusal } from '../fault/refusal.js';
import type { Replay } from '../model/replay.js';
import { placedChunks, verdictsOf } from '../replay/chunks.js';
import { requireDone } from '../replay/requests.js';

/** This many addresses are remembered as other clients; beyond that they are computed again. */
const MOST_SEEN = 500_000;

/**
 * The address of the client that has the pseudonym in a replay. A pseudonym cannot be reversed, so those of the
 * replay's clients are made until it is found: first of those with most requests, whom people look up most.
 */
export async function clientNamed(knex: Knex, replay: Replay, name: string, pseudonym: Pseudonym): Promise<string> {
  requireDone(replay);
  const isMeant = (address: string) => pseudonym('client', address) === name;
  const { breakdowns } = JSON.parse(replay.report as string) as Report;
  const shown = breakdowns.client.rows.find(({ key }) => key !== null && isMeant(key))?.key;
  if (shown) return shown;
  const seen = new Set<string>();
  for (const chunk of await placedChunks(knex, replay)) {
    for (const address of (await verdictsOf(knex, replay, chunk)).distinctClients()) {
      if (seen.has(address)) continue;
      if (isMeant(address)) return address;
      if (seen.size >= MOST_SEEN) seen.clear();
      seen.add(address);
    }
  }
  throw refusal('unknown-client', { name });
}
