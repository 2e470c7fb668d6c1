import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import { Worker } from 'node:worker_threads';
import { largeWorkspaceFiles } from './large/workspace.js';
import { type Figure, figureOf } from './measure.js';
import { benchService } from './service.js';

const RULES = 50;
const NAMES = 1_000_000;
const ROUNDS = 3;
const ASKED_MS = 20;
const SETTLE_MS = 2000;
const LOOK_MS = 50;

/** The longest that a decision took while a feed fetched a million names, others each time, and published them. */
export async function decisionStall(): Promise<Figure[]> {
  const service = await benchService();
  const [policy, ...lists] = largeWorkspaceFiles(RULES).toReversed();
  const rule = '  - rule: fetched\n    when: {host: [fetched]}\n    then: block\n';
  const text = (policy?.text ?? '').replace(/^rules:\n/m, `rules:\n${rule}`);
  await service.call('PUT', '/api/v1/workspace', {
    files: [...lists, { name: 'policy.yaml', text }, EMPTY],
    exact: true,
  });
  await service.call('POST', '/api/v1/revisions', { message: 'Measured', acceptWarnings: true });
  const { secret } = await service.call<{ secret: string }>('POST', '/api/v1/tokens', {
    name: 'stall',
    kind: 'gateway',
  });
  let round = 0;
  const texts = Array.from({ length: ROUNDS + 1 }, (_, at) => namesOf(at));
  const source = createServer((_call, response) => response.end(texts[round])).listen(0, '127.0.0.1');
  await once(source, 'listening');
  const feed = `http://127.0.0.1:${(source.address() as AddressInfo).port}/`;
  await service.call('PUT', '/api/v1/feeds/fetched', {
    of: 'domains',
    source: feed,
    allowPrivate: true,
    publish: true,
  });
  const watch = new Worker(new URL('decision-watch.js', import.meta.url), {
    workerData: {
      url: service.gateUrl,
      pid: gateOf(service.pid),
      authorization: `Bearer ${secret}`,
      body: JSON.stringify({ peer: '198.18.4.20', method: 'GET', scheme: 'https', host: 'n1.example', path: '/' }),
    },
  });
  const longest = async () => {
    const shown = once(watch, 'message');
    watch.postMessage('longest');
    return (await shown)[0] as [number, number, number];
  };
  await sleep(SETTLE_MS);
  const stalls: number[] = [];
  const late: number[] = [];
  const busy: number[] = [];
  for (round = 1; round <= ROUNDS; round++) {
    await longest();
    const { last } = await service.call<{ last: { revision: number | null; what: string | null } }>(
      'POST',
      '/api/v1/feeds/fetched/refresh',
    );
    if (last.revision === null) throw new Error(`the feed was not published: ${last.what}`);
    // The service hears of what was published, prepares it, and puts it in force.
    for (let inForce = 0; inForce !== last.revision; await sleep(LOOK_MS))
      ({ revision: inForce } = await service.call<{ revision: number }>('GET', '/api/v1/live'));
    await sleep(SETTLE_MS);
    const [stall, lateness, ran] = await longest();
    stalls.push(stall);
    late.push(lateness);
    busy.push(ran);
  }
  await watch.terminate();
  source.close();
  await fetch(`${service.url}/api/v1/feeds/fetched`, { method: 'DELETE', headers: service.headers });
  const unit = 'ms, the longest decision while a million names come';
  return [
    figureOf({ name: 'decision-stall', unit, floorName: 'target' }, stalls, [ASKED_MS]),
    figureOf({ name: 'decision-stall-own-work', unit: OWN, floorName: 'target' }, busy, [ASKED_MS]),
    figureOf({ name: 'decision-stall-vs-timer', unit, floorName: 'the latest timer of a bare program' }, stalls, late),
  ];
}

const OWN = 'ms, the most that the deciding thread itself ran between two decisions';

const EMPTY = { name: 'fetched.yaml', text: 'list: fetched\nof: domains\nentries: [first.example]\n' };

/** The process of a service that decides. */
function gateOf(service: number): number {
  const children = readFileSync(`/proc/${service}/task/${service}/children`, 'utf8').trim().split(' ').map(Number);
  const gate = children.find((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('gate-main.js'));
  if (gate === undefined) throw new Error('the service has no process that decides');
  return gate;
}

const namesOf = (round: number): string =>
  Array.from({ length: NAMES }, (_, at) => `n${(Math.imul(at, 2654435761) >>> 0).toString(36)}.r${round}.example`).join(
    '\n',
  );
