import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { callsSchema } from '../setup/answers.js';
import { startService, type TestService } from '../setup/service.js';

/** Every collection comes in pages, by one convention. */
let service: TestService;

const LOG = ['198.51.100.7', '198.51.100.8', '203.0.113.9']
  .map((peer) => JSON.stringify({ peer, host: 'tickets.fennelhill.example', path: '/', time: '2026-11-12T10:00:00Z' }))
  .join('\n');
const POLICY = `policy: garden
covers: {hosts: [.fennelhill.example]}
default: allow
rules:
  - rule: no-harvesters
    when: {client: [harvesters]}
    then: block
    record: log
`;
const listOf = (entry: string) => `list: harvesters\nof: addresses\nentries:\n  - ${entry}\n  - 203.0.113.9\n`;

beforeAll(async () => {
  service = await startService();
  const made = async (method: string, path: string, body?: unknown, headers?: Record<string, string>) => {
    const { status, body: answer } = await service.call(method, `/api/v1${path}`, body, headers);
    expect([method, path, status < 300 || JSON.stringify(answer)]).toEqual([method, path, true]);
    return answer;
  };
  for (const entry of ['198.51.100.7', '198.51.100.8']) {
    const files = [
      { name: 'garden.yaml', text: POLICY },
      { name: 'harvesters.yaml', text: listOf(entry) },
    ];
    await made('PUT', '/workspace', { files });
    await made('POST', '/revisions', { message: entry, acceptWarnings: true });
  }
  await made('PATCH', '/lists/harvesters/entries', { add: [{ entry: '192.0.2.1' }] });
  for (const message of ['one', 'two']) await made('POST', '/proposals', { message });
  for (const name of ['ada', 'bo']) await made('POST', '/people', { name, role: 'viewer' });
  for (const name of ['one', 'two']) {
    await made('POST', '/tokens', { name });
    await made('PUT', `/passcodes/${name}`, { passcode: 'secret' });
    await made('PUT', `/mappings/${name}`, { columns: { host: 'Site' } });
    await made('PUT', `/feeds/feed-${name}`, { of: 'addresses', source: `file:${name}.txt` });
    await made('POST', `/logs?name=${name}`, `${LOG}\n{"peer":\n{"host":\n`);
    await made('POST', `/logs?name=rest-${name}`, 'nothing\n', { prefer: 'respond-async' }).catch(() => undefined);
    await fetch(`${service.url}/api/v1/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'x-jade-fence-console': '1' },
      body: JSON.stringify({ key: service.key }),
    });
  }
  await made('PATCH', '/settings', { dnsServers: ['127.0.0.1:9'] });
  for (const name of ['one', 'two']) {
    await made('POST', `/resolutions/loads?source=${name}`, `${name}.example,198.51.100.7\n`);
    await made('POST', '/resolves', { hosts: [`${name}.example`] });
  }
  await done((await made('POST', '/replays', { log: 'one', state: '1' })).id);
  await done((await made('POST', '/replays', { log: 'one', state: '2' })).id);
  for (const path of ['/one', '/two'])
    await service.ask('POST', '/decide', { peer: '203.0.113.9', host: 'tickets.fennelhill.example', path });
  // Decisions are recorded a little after they are made.
  while ((await made('GET', '/decisions')).decisions.length < 2) await sleep(100);
});
afterAll(() => service.stop());

async function done(id: number): Promise<void> {
  await fetch(`${service.url}/api/v1/replays/${id}/progress`, {
    headers: { authorization: `Bearer ${service.key}` },
  }).then((response) => response.text());
}

const PARAMS: Readonly<Record<string, string>> = { ':id': '2', ':kind': 'list' };
/** The names in the paths of collections. */
const NAMED: Readonly<Record<string, string>> = { '/logs': 'one', '/lists': 'harvesters', '/objects': 'harvesters' };

// biome-ignore lint/suspicious/noExplicitAny: schemas of every shape
const { definitions } = callsSchema() as any;
const PAGED = Object.entries(definitions.Calls.properties as Record<string, { properties?: Record<string, object> }>)
  .filter(([, { properties }]) => JSON.stringify(nextOf(properties?.answer)) !== undefined)
  .map(([call]) => call);

function nextOf(schema: unknown): unknown {
  const { $ref, properties } = (schema ?? {}) as {
    readonly $ref?: string;
    readonly properties?: { readonly next?: object };
  };
  return $ref === undefined ? properties?.next : nextOf(definitions[$ref.split('/').at(-1) as string]);
}

const pathOfCall = (call: string): string => {
  const [, pattern = ''] = call.split(' ');
  const start = `/${pattern.split('/')[1]}`;
  const path = pattern.replace(/:\w+/g, (name) => PARAMS[name] ?? NAMED[start] ?? '');
  return `/api/v1${path}${call.includes('comparison') ? '?with=1' : ''}`;
};

describe('every collection comes in pages', () => {
  it('of which there are these', () => {
    expect(PAGED.length).toBeGreaterThan(17);
  });

  it.each(PAGED)('%s', async (call) => {
    const path = pathOfCall(call);
    const get = async (of: string) => {
      const response = await fetch(service.url + of, { headers: { authorization: `Bearer ${service.key}` } });
      const body = (await response.json()) as Record<string, unknown> & { readonly next: string | number | null };
      expect([of, response.status]).toEqual([of, 200]);
      const items = Object.values(body).find(Array.isArray) as readonly unknown[];
      const link = /^<([^>]+)>; rel="next"$/.exec(response.headers.get('link') ?? '')?.[1];
      expect(link === undefined).toBe(body.next === null);
      return { items, next: body.next, link };
    };
    const all = await get(path);
    expect(all.next).toBeNull();
    expect(all.items.length).toBeGreaterThan(1);
    const byLinks: unknown[] = [];
    let link: string | undefined = `${path}${path.includes('?') ? '&' : '?'}limit=1`;
    for (let asked = 0; link !== undefined; asked++) {
      expect(asked).toBeLessThan(all.items.length);
      const page: { items: readonly unknown[]; next: unknown; link: string | undefined } = await get(link);
      expect(page.items.length).toBe(1);
      byLinks.push(...page.items);
      link = page.link;
    }
    expect(byLinks.map(withoutTimes)).toEqual(all.items.map(withoutTimes));
  });
});

/** An item as it is, but for when it was used last. */
const withoutTimes = (item: unknown): string => JSON.stringify(item).replace(/"usedAt":"[^"]*"/, '');
