import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Answer, startService, type TestService } from '../setup/service.js';

/** What an explanation says of a limit is what a plain count of the log gives. */
let service: TestService;
let folder: string;

const MOST = 5;
const WITHIN = 60_000;
const HOLD = 90_000;
const POLICY = `policy: seed-shop
covers: {hosts: [seeds.fennelhill.example]}
client: {from: peer}
default: allow
rules:
  - rule: not-the-robot
    when: {agent: ["robot*"]}
    then: block
  - rule: sign-in-flood
    when: {path: ["/sign-in*"], method: [POST]}
    limit: {more-than: ${MOST}, within: 1m, per: [client, method], hold: 90s}
    then: block
  - rule: network-rush
    limit: {more-than: 40, within: 1h, per: [client/24]}
    then: block
    stance: observe
  - rule: too-much
    limit: {more-than: 3KiB, within: 10m, per: []}
    then: block
    stance: observe
`;

interface Made {
  readonly time: number;
  readonly peer: string;
  readonly method: string;
  readonly path: string;
  readonly agent: string;
  readonly bytes: number;
}

/** The same each time: a few clients, in bursts, with requests that count and others that do not. */
function traffic(): Made[] {
  let seed = 7;
  const next = (below: number) => {
    seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648;
    return Math.floor((seed / 2_147_483_648) * below);
  };
  let time = Date.parse('2026-11-20T11:00:00Z');
  return Array.from({ length: 250 }, () => {
    time += next(10) === 0 ? next(120_000) : next(6000);
    return {
      time,
      peer: `198.18.4.${20 + next(2)}`,
      method: next(4) === 0 ? 'GET' : 'POST',
      path: next(5) === 0 ? '/packets' : '/sign-in',
      agent: next(9) === 0 ? 'robot/1' : 'meadowlark/2',
      bytes: next(300),
    };
  });
}
const log = traffic();

beforeAll(async () => {
  service = await startService();
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-limit-'));
  writeFileSync(join(folder, 'shop.yaml'), POLICY);
  const lines = log.map(({ time, ...each }) =>
    JSON.stringify({ time: new Date(time).toISOString(), host: 'seeds.fennelhill.example', scheme: 'https', ...each }),
  );
  writeFileSync(join(folder, 'monday.jsonl'), lines.join('\n'));
  await service.client('workspace', 'apply', join(folder, 'shop.yaml'));
  await service.client('replay', 'run', '--import', join(folder, 'monday.jsonl'));
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await service.stop();
});

/** How each request counts under the flood's limit, counted as plainly as can be. */
function plainly(): Map<number, { sum: number; heldUntil: number | null }> {
  const found = new Map<number, { sum: number; heldUntil: number | null }>();
  const counted: { readonly key: string; readonly time: number }[] = [];
  const held = new Map<string, number>();
  for (const [at, { time, peer, method, path, agent }] of log.entries()) {
    if (agent.startsWith('robot') || path !== '/sign-in' || method !== 'POST') continue;
    counted.push({ key: peer, time });
    const sum = counted.filter((each) => each.key === peer && each.time > time - WITHIN).length;
    if (sum > MOST) held.set(peer, time + HOLD);
    const until = held.get(peer) ?? 0;
    found.set(at + 1, { sum, heldUntil: time < until ? until : null });
  }
  return found;
}

it('reports the count, the key, the span and the hold of every request under a limit', async () => {
  const expected = plainly();
  const shown = new Map<number, { sum: number; heldUntil: number | null }>();
  let [over, heldOnly] = [0, 0];
  const numbers = log.map((_, at) => at + 1);
  const bodies = new Map<number, Answer['body']>();
  const fetchSome = async () => {
    for (let number = numbers.shift(); number !== undefined; number = numbers.shift())
      bodies.set(number, (await service.call('GET', `/api/v1/replays/1/requests/${number}`)).body);
  };
  await Promise.all(Array.from({ length: 8 }, fetchSome));
  for (let number = 1; number <= log.length; number++) {
    const { of, explanation, verdict, rule } = bodies.get(number);
    expect(of).toMatchObject({ id: 1, logs: ['monday'] });
    const { limit, text: words } = explanation.rules[1];
    if (limit.sum === null) continue;
    const heldUntil = limit.heldUntil === null ? null : Date.parse(limit.heldUntil);
    shown.set(number, { sum: limit.sum, heldUntil });
    expect(limit.key).toEqual([log[number - 1]?.peer, 'POST']);
    const isOver = limit.sum > MOST || heldUntil !== null;
    expect([number, verdict === 'block' && rule === 'sign-in-flood']).toEqual([number, isOver]);
    if (!isOver) expect(words).toContain('no more than 5');
    else if (limit.sum > MOST) over++;
    else heldOnly++;
  }
  expect(shown).toEqual(expected);
  expect([over > 20, heldOnly > 5]).toEqual([true, true]);
});

it('says so in a sentence, at the client too', async () => {
  const [number, standing] = [...plainly()].find(([, { sum }]) => sum === MOST + 1)!;
  const until = new Date(standing.heldUntil!).toISOString().slice(0, 19).replace('T', ' ');
  const { out } = await service.client('request', 'explain', '--request', String(number));
  expect(out).toContain(
    `it is the 6th request of client ${log[number - 1]?.peer} and method POST within a minute, more than 5; held until ${until} UTC`,
  );
  const [held] = [...plainly()].find(([, each]) => each.sum <= MOST && each.heldUntil !== null)!;
  expect((await service.client('request', 'explain', '--request', String(held))).out).toContain(
    'the limit of 5 was exceeded before, and is held until',
  );
});

it('counts networks, and bytes of all', async () => {
  const last = (await service.call('GET', '/api/v1/replays/1/requests/60')).body.explanation.rules;
  const reached = log.slice(0, 60);
  if (last[2].limit.sum !== null) expect(last[2].limit.key).toEqual(['198.18.4.0/24']);
  const bytes = last[3].limit;
  expect(bytes).toMatchObject({ per: [], key: [], counts: 'bytes', within: 600, hold: 0 });
  if (bytes.sum !== null) expect(bytes.sum).toBeLessThanOrEqual(reached.reduce((sum, each) => sum + each.bytes, 0));
  const sums = await Promise.all(
    Array.from({ length: 60 }, async (_, at) => {
      const { explanation } = (await service.call('GET', `/api/v1/replays/1/requests/${at + 1}`)).body;
      return explanation.rules[3].limit.sum as number | null;
    }),
  );
  const reachedAll = new Map<number, number>();
  for (const [at, sum] of sums.entries()) if (sum !== null) reachedAll.set(at, sum);
  for (const [at, sum] of reachedAll) {
    const { time } = log[at] as Made;
    const within = [...reachedAll.keys()].filter((each) => each <= at && (log[each] as Made).time > time - 600_000);
    expect([at, sum]).toEqual([at, within.reduce((all, each) => all + (log[each] as Made).bytes, 0)]);
  }
});

it('shows only the limit for a request of no replay', async () => {
  const { out } = await service.client(
    ...['request', 'explain', '--client', '198.18.4.20', '--method', 'POST'],
    ...['--url', 'https://seeds.fennelhill.example/sign-in'],
  );
  expect(out).toContain('the limit is 5 requests of client 198.18.4.20 and method POST within a minute');
});
