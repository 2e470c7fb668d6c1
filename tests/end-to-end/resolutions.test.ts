import { createSocket, type Socket } from 'node:dgram';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, onTestFinished } from 'vitest';
import { freePort, Servers } from '../setup/servers.js';
import { ended, queryDatabase, startService, type TestService } from '../setup/service.js';

/**
 * Which addresses hosts have: from files, from a real DNS server with a zone of made-up sites, and from logs; what rules
 * make of them in replays, look-ups and live decisions.
 */
let service: TestService & { readonly database: string };
let dns: Servers;
let port: number;
const folder = mkdtempSync(join(tmpdir(), 'jade-fence-resolutions-'));

/** 100 addresses do not fit into an answer over UDP. */
const MANY = Array.from({ length: 100 }, (_, at) => `198.18.20.${at + 1}`);
const ZONE = `$ORIGIN sites.example.
$TTL 600
@ IN SOA ns hostmaster 1 3600 900 604800 60
@ IN NS ns
ns IN A 127.0.0.1
www IN CNAME front
front 90 IN CNAME pool
pool IN A 198.18.96.7
pool IN A 198.18.1.7
pool IN AAAA 2001:db8:1::7
six IN AAAA 2001:db8:1::6
home IN A 198.18.1.8
there IN A 198.18.96.8
short 1 IN A 198.18.96.9
liar IN A 10.0.0.9
later IN A 198.18.96.10
text IN TXT "no address"
${MANY.map((address) => `many IN A ${address}`).join('\n')}
`;
const COUNTRIES = 'network,code\n198.18.0.0/16,PT\n198.18.96.0/20,XM\n2001:db8:1::/48,FR\n';
const POLICY = `policy: visitor-web
covers: {clients: [10.40.0.0/16]}
destinations: {resolve: true}
default: allow
rules:
  - {rule: not-there, when: {destination-country: [XM]}, then: block}
`;

beforeAll(async () => {
  port = await freePort();
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'sites.zone'), ZONE);
  writeFileSync(
    join(folder, 'nsd.conf'),
    `server:
  ip-address: 127.0.0.1@${port}
  username: ""
  chroot: ""
  zonesdir: "${folder}"
  database: ""
  pidfile: "${folder}/pid"
  zonelistfile: "${folder}/zone.list"
  xfrdfile: "${folder}/xfrd.state"
  xfrdir: "${folder}"
  server-count: 1
remote-control:
  control-enable: no
zone:
  name: sites.example
  zonefile: sites.zone
`,
  );
  dns = new Servers(folder);
  await dns.start('nsd', ['-d', '-c', join(folder, 'nsd.conf')], port);
  service = await startService();
  writeFileSync(join(folder, 'policy.yaml'), POLICY);
  writeFileSync(join(folder, 'countries.csv'), COUNTRIES);
  expect(await service.client('workspace', 'apply', join(folder, 'policy.yaml'))).toMatchObject({ code: 0 });
  expect(await service.client('country', 'import', join(folder, 'countries.csv'))).toMatchObject({ code: 0 });
});
afterAll(async () => {
  await service?.stop();
  await dns?.end();
  rmSync(folder, { recursive: true, force: true });
});

const servers = (...named: readonly string[]) => service.call('PATCH', '/api/v1/settings', { dnsServers: named });
const lookUp = async (of: string, more = '') => (await service.call('GET', `/api/v1/look-up?of=${of}${more}`)).body;
const addressesOf = async (host: string): Promise<string[] | undefined> =>
  (await lookUp(host)).resolution?.addresses.map(({ address }: { address: string }) => address);

/** Looks hosts up, and waits until that has ended. */
// biome-ignore lint/suspicious/noExplicitAny: tests look into bodies of every shape
async function resolved(order: object): Promise<any> {
  const { status, body } = await service.call('POST', '/api/v1/resolves', order);
  expect(status).toBe(202);
  return resolveEnded(body.id);
}

// biome-ignore lint/suspicious/noExplicitAny: tests look into bodies of every shape
async function resolveEnded(id: number): Promise<any> {
  const state = async () => (await service.call('GET', `/api/v1/resolves/${id}`)).body.state;
  await expect.poll(state, { timeout: 40_000 }).toMatch(/done|failed|cancelled/);
  return (await service.call('GET', `/api/v1/resolves/${id}`)).body;
}

/** Imports a log of requests of one visitor to hosts, and answers its name. */
async function logOf(name: string, hosts: readonly (string | [string, string])[]): Promise<string> {
  const lines = hosts.map((each, at) => {
    const [host, destination] = typeof each === 'string' ? [each, undefined] : each;
    const time = new Date(Date.UTC(2026, 10, 20, 8, 0, at)).toISOString();
    return JSON.stringify({ time, peer: '10.40.0.7', method: 'CONNECT', host, port: 443, destination });
  });
  const { status } = await service.call('POST', `/api/v1/logs?name=${name}`, `${lines.join('\n')}\n`);
  expect(status).toBe(201);
  return name;
}

// biome-ignore lint/suspicious/noExplicitAny: tests look into bodies of every shape
async function replayOf(log: string): Promise<any> {
  const { body } = await service.call('POST', '/api/v1/replays', { log });
  return ended(service, body.id);
}

// biome-ignore lint/suspicious/noExplicitAny: tests look into bodies of every shape
const reportOf = async (replay: { id: number }): Promise<any> =>
  (await service.call('GET', `/api/v1/replays/${replay.id}/report`)).body;

/** A server for one test that gets every question and answers what it is given to. */
async function fakeServer(answer: (question: Buffer) => Buffer | undefined): Promise<string> {
  const socket: Socket = createSocket('udp4');
  socket.on('message', (question, from) => {
    const made = answer(question);
    if (made) socket.send(made, from.port, from.address);
  });
  await new Promise<void>((done) => socket.bind(0, '127.0.0.1', done));
  onTestFinished(() => void socket.close());
  return `127.0.0.1:${(socket.address() as AddressInfo).port}`;
}

describe('files of resolutions', () => {
  it('are loaded by the client, with faulty lines reported and the others kept', async () => {
    const file = join(folder, 'kept.csv');
    writeFileSync(file, 'host,address\nkept.example,198.18.1.1\nkept.example,nowhere\nnot a host,198.18.1.1\n');
    const ran = await service.client('resolution', 'import', file);
    expect(ran.code).toBe(0);
    expect(ran.out).toContain('line 3: This is not an IP address: nowhere');
    expect(ran.out).toContain('line 4: This is not a host name: not a host');
    expect(ran.out).toContain('Loaded 1 host, 2 lines skipped; in force now.');
    expect(await addressesOf('kept.example')).toEqual(['198.18.1.1']);
    const { out } = await service.client('resolution', 'show');
    expect(out).toMatch(/csv +kept\.csv +1 +2 +administrator/);
  });

  it('that give nothing are refused with every reason, and leave all as it was', async () => {
    const before = (await service.call('GET', '/api/v1/resolutions')).body;
    const zone = 'a.example. IN CNAME b.example.\nb.example. IN CNAME a.example.\n';
    const { status, body } = await service.call('POST', '/api/v1/resolutions/loads?source=loop.zone', zone);
    expect([status, body.code]).toEqual([422, 'no-resolutions']);
    expect(body.issues.map(({ path, what }: { path: string; what: string }) => `${path}: ${what}`)).toEqual([
      'line 1: The alias leads back to itself, or over more than 16 others: a.example CNAME b.example',
      'line 2: The alias leads back to itself, or over more than 16 others: b.example CNAME a.example',
    ]);
    expect((await service.call('GET', '/api/v1/resolutions')).body).toEqual(before);
    const bytes = await service.call('POST', '/api/v1/resolutions/loads?source=noise', '\0\u0001\uFFFD,,,,\n');
    expect(bytes.status).toBe(422);
  });

  it('of a zone are those of the server itself, alias by alias', async () => {
    const load = await service.call('POST', '/api/v1/resolutions/loads?source=sites.zone&anew=true', ZONE);
    expect(load.body).toMatchObject({ kind: 'zone', anew: true, faultCount: 0, hosts: 11 });
    const hosts = ['www', 'front', 'pool', 'six', 'home', 'many', 'liar'].map((name) => `${name}.sites.example`);
    const byZone = await Promise.all(hosts.map(addressesOf));
    await service.call('POST', '/api/v1/resolutions/loads?source=nothing&anew=true', 'other.example,198.18.1.1\n');
    expect(await addressesOf('www.sites.example')).toBeUndefined();
    await servers(`127.0.0.1:${port}`);
    expect((await resolved({ hosts })).counts).toMatchObject({ found: 6, private: 1 });
    expect(await Promise.all(hosts.map(addressesOf))).toEqual(byZone);
  });

  it('take effect at once, so that only administrators load them', async () => {
    const password = 'a long enough password';
    await service.call('POST', '/api/v1/people', { name: 'rui', role: 'publisher', password });
    const { body } = await service.call('POST', '/api/v1/tokens', { name: 'rui-1', person: 'rui', role: 'publisher' });
    const asRui = { authorization: `Bearer ${body.secret}` };
    const load = (headers: Record<string, string>) =>
      service.call('POST', '/api/v1/resolutions/loads?source=x', 'x.example,198.18.1.1\n', headers);
    if (body.secret) expect((await load(asRui)).body.code).toBe('role-too-low');
    expect((await load({})).status).toBe(201);
  });
});

describe('a DNS server', () => {
  it('answers through aliases, with several addresses, IPv6 alone, more than fits into a datagram, and none', async () => {
    await servers(`127.0.0.1:${port}`);
    const names = ['www', 'six', 'many', 'text', 'nothing-there'].map((name) => `${name}.sites.example`);
    const { counts, examples, state } = await resolved({ hosts: names });
    expect([state, counts]).toEqual(['done', { found: 3, none: 2, failed: 0, withheld: 0, private: 0, beyond: 0 }]);
    expect(examples).toEqual([]);
    const [www, six, many, text, nothing] = await Promise.all(names.map(addressesOf));
    expect(www).toEqual(['198.18.1.7', '198.18.96.7', '2001:db8:1::7']);
    expect(six).toEqual(['2001:db8:1::6']);
    expect(many).toEqual(MANY.toSorted((a, b) => Number(a.split('.')[3]) - Number(b.split('.')[3])));
    expect([text, nothing]).toEqual([[], []]);
  });

  it('is believed for as long as it says, and not less than half a minute', async () => {
    await resolved({ hosts: ['home.sites.example', 'short.sites.example'] });
    const span = async (host: string) => {
      const { seen, until, from } = (await lookUp(host)).resolution;
      expect(from).toEqual({ kind: 'dns', name: `127.0.0.1:${port}` });
      return (Date.parse(until) - Date.parse(seen)) / 1000;
    };
    expect(await span('home.sites.example')).toBe(600);
    expect(await span('short.sites.example')).toBe(30);
    await resolved({ hosts: ['nothing-there.sites.example'] });
    expect(await span('nothing-there.sites.example')).toBe(300);
  });

  it('that answers for a public name with a private address is reported', async () => {
    const { counts, examples } = await resolved({ hosts: ['liar.sites.example'] });
    expect(counts).toMatchObject({ found: 0, private: 1 });
    expect(examples).toEqual([
      { host: 'liar.sites.example', why: 'a public name was answered with an address of private networks' },
    ]);
    expect((await lookUp('liar.sites.example')).resolution.isPrivate).toBe(true);
    const { out } = await service.client('look-up', 'show', 'liar.sites.example');
    expect(out).toContain('a public name at an address of private networks: whoever answered may lie');
    await service.call('PATCH', '/api/v1/settings', { dnsOwnDomains: ['sites.example'] });
    expect((await resolved({ hosts: ['liar.sites.example'] })).counts).toMatchObject({ found: 1, private: 0 });
    await service.call('PATCH', '/api/v1/settings', { dnsOwnDomains: [] });
  });

  it('that never answers costs a bounded time, and what was known stays', async () => {
    const before = await addressesOf('www.sites.example');
    await servers(await fakeServer(() => undefined));
    const { counts, examples } = await resolved({ hosts: ['www.sites.example'] });
    expect(counts).toMatchObject({ found: 0, failed: 1 });
    expect(examples).toEqual([{ host: 'www.sites.example', why: 'the servers did not answer in time' }]);
    expect(await addressesOf('www.sites.example')).toEqual(before);
  }, 60_000);

  it.each<[string, (question: Buffer) => Buffer]>([
    ['noise', () => Buffer.from('\xff\x00 not DNS at all', 'latin1')],
    [
      'the head of an answer and nothing else',
      (question) => Buffer.concat([question.subarray(0, 2), Buffer.from([0x81, 0x80])]),
    ],
    [
      'a name that leads to itself',
      (question) => {
        const answer = Buffer.from(question);
        answer.writeUInt16BE(0x8180, 2);
        answer.writeUInt16BE(1, 6);
        return Buffer.concat([answer, Buffer.from([0xc0, answer.length, 0, 1, 0, 1, 0, 0, 0, 9, 0, 4, 1, 2, 3, 4])]);
      },
    ],
    [
      'a failure',
      (question) => {
        const answer = Buffer.from(question);
        answer.writeUInt16BE(0x8182, 2);
        return answer;
      },
    ],
  ])(
    'that answers with %s ends nothing and changes nothing',
    async (_, answer) => {
      const before = await addressesOf('home.sites.example');
      await servers(await fakeServer(answer));
      const { counts, examples, state } = await resolved({ hosts: ['home.sites.example'] });
      expect([state, counts.found, counts.failed]).toEqual(['done', 0, 1]);
      expect(examples[0].why).toMatch(/^the servers /);
      expect(await addressesOf('home.sites.example')).toEqual(before);
    },
    60_000,
  );

  it('outside does not get the names of private networks, unless that is allowed', async () => {
    let asked = 0;
    const server = await fakeServer(() => {
      asked++;
      return undefined;
    });
    await servers('198.51.100.53');
    await service.call('PATCH', '/api/v1/settings', { dnsOwnDomains: ['fennelhill.example'] });
    const names = ['printer', 'printer.local', 'a.home.arpa', 'vault.internal', 'door.fennelhill.example'];
    const { counts, examples } = await resolved({ hosts: names });
    expect(counts).toMatchObject({ found: 0, failed: 0, withheld: names.length });
    expect(examples[0].why).toBe('it is a name of private networks, and the servers are outside');
    // A server within does.
    await servers(server);
    const begun = await service.call('POST', '/api/v1/resolves', { hosts: ['printer.local'] });
    await expect.poll(() => asked, { timeout: 10_000 }).toBeGreaterThan(0);
    const { body } = await service.call('POST', `/api/v1/resolves/${begun.body.id}/cancel`);
    expect(body.state).toBe('cancelled');
    await service.call('PATCH', '/api/v1/settings', { dnsOwnDomains: [] });
  }, 30_000);

  it.each([
    [{ dnsServers: ['dns.example'] }, 'dnsServers has addresses'],
    [{ dnsServers: ['10.0.0.1:0'] }, 'dnsServers has addresses'],
    [{ dnsServers: ['10.0.0.1:99999'] }, 'dnsServers has addresses'],
    [{ dnsPerSecond: 0 }, 'dnsPerSecond'],
    [{ dnsOwnDomains: ['not a domain'] }, 'dnsOwnDomains has host names'],
  ])('is not set to %j', async (change, why) => {
    const { status, body } = await service.call('PATCH', '/api/v1/settings', change);
    expect(status).toBe(400);
    expect(body.detail).toContain(why);
  });

  it('has to be named before hosts are looked up, and hosts or a log with them', async () => {
    for (const host of ['198.18.96.7', '[2001:db8::1]', '0x7f.1', '2130706433']) {
      const { status, body } = await service.call('POST', '/api/v1/resolves', { hosts: [host] });
      expect([host, status, body.code]).toEqual([host, 400, 'invalid-input']);
    }
    await servers();
    const { status, body } = await service.call('POST', '/api/v1/resolves', { hosts: ['a.example'] });
    expect([status, body.code]).toEqual([409, 'no-dns-servers']);
    for (const order of [{}, { hosts: ['a.example'], log: 'x' }, { hosts: ['a.example'], by: 'log' }])
      expect((await service.call('POST', '/api/v1/resolves', order)).body.code).toBe('which-hosts');
    expect((await service.call('POST', '/api/v1/resolves', { hosts: [] })).status).toBe(400);
    expect((await service.call('GET', '/api/v1/resolves/999')).body.code).toBe('unknown-resolve');
  });
});

describe('a replay', () => {
  it('takes the addresses of hosts for destinations, says what is not resolved, and resolves it', async () => {
    await service.call('POST', '/api/v1/resolutions/loads?source=nothing&anew=true', 'other.example,198.18.1.1\n');
    await servers(`127.0.0.1:${port}`);
    const hosts = ['www', 'www', 'home', 'six', 'there', 'nothing-there'].map((name) => `${name}.sites.example`);
    // One that the request shows comes before what its host has; an address for a host needs no resolution.
    const log = await logOf('sites', [...hosts, ['there.sites.example', '198.18.1.1'], '198.18.96.1', 'other.example']);
    const first = await replayOf(log);
    const before = await reportOf(first);
    const [policy] = before.policies;
    expect(policy.unresolved).toMatchObject({ requests: 6, hosts: 5, beyond: 0 });
    expect(policy.unresolved.most[0]).toEqual({ host: 'www.sites.example', requests: 2 });
    expect(policy.remarks[0]).toMatchObject({ code: 'unresolved', rule: null });
    expect(policy.remarks[0].text).toContain('no address of `www.sites.example` and 4 other hosts is known');
    expect(policy.rules[0]).toMatchObject({ decided: 1, blind: 6 });

    const { out, code } = await service.client('resolve', 'run', '--log', log);
    expect(code).toBe(0);
    expect(out).toContain('Looked up 5 hosts: 4 with addresses, 1 known to have none.');
    const second = await replayOf(log);
    const [after] = (await reportOf(second)).policies;
    expect(after.rules[0]).toMatchObject({ decided: 4, blind: 1 });
    expect(after.unresolved).toMatchObject({ requests: 1, hosts: 1 });
    const byCountry = Object.fromEntries(
      (await reportOf(second)).breakdowns['destination-country'].rows.map(
        ({ key, requests }: { key: string; requests: number }) => [key, requests],
      ),
    );
    // A host with addresses in three countries counts in each.
    expect(byCountry).toEqual({ XM: 4, PT: 5, FR: 3, null: 1 });
    const inXm = await service.call('GET', `/api/v1/replays/${second.id}/requests?destinationCountry=XM`);
    expect(inXm.body.requests.map(({ request }: { request: { host: string } }) => request.host)).toEqual([
      'www.sites.example',
      'www.sites.example',
      'there.sites.example',
      '198.18.96.1',
    ]);
    expect(inXm.body.requests[0].destinationCountry).toBe('FR PT XM');

    const changed = async (query: string) =>
      (
        await service.call(
          'GET',
          `/api/v1/replays/${second.id}/comparison/requests?with=${first.id}&destinationCountry=${query}`,
        )
      ).body.requests.length;
    expect(await Promise.all(['XM', 'FR', 'DE'].map(changed))).toEqual([3, 2, 0]);
    const compared = await service.client('replay', 'compare', String(first.id), String(second.id));
    expect(compared.out).toContain('Other addresses of hosts were known, too.');

    // What is learnt later does not change what a replay has said, nor how it explains it.
    expect(await reportOf(first)).toEqual(before);
    const { number } = inXm.body.requests[0];
    const explained = async (replay: { id: number }) =>
      (await service.call('GET', `/api/v1/replays/${replay.id}/requests/${number}`)).body.explanation;
    expect(await explained(first)).toMatchObject({ verdict: 'allow', destinations: [], resolved: null });
    expect((await explained(first)).rules[0].when[0].tests[0].because).toBe(
      'no address of www.sites.example is known; it is not resolved yet',
    );
    const story = await explained(second);
    expect(story.verdict).toBe('block');
    expect(
      story.destinations.map(({ address, country }: { address: string; country: string }) => [address, country]),
    ).toEqual([
      ['198.18.1.7', 'PT'],
      ['198.18.96.7', 'XM'],
      ['2001:db8:1::7', 'FR'],
    ]);
    expect(story.resolved.text).toMatch(/^www\.sites\.example had .* by DNS server 127\.0\.0\.1:/);
    // Nothing is left to look up but what is known to have no address for a while.
    expect((await service.client('resolve', 'run', '--log', log)).out).toContain('Every host is known already.');
  }, 60_000);

  it('of the same state gives the same report', async () => {
    const [one, other] = [await replayOf('sites'), await replayOf('sites')];
    expect(JSON.stringify(await reportOf(other))).toBe(JSON.stringify(await reportOf(one)));
  });

  it('takes the addresses that a log shows, too', async () => {
    await service.call('POST', '/api/v1/resolutions/loads?source=nothing&anew=true', 'other.example,198.18.1.1\n');
    const log = await logOf('shown', [
      ['seen.example', '198.18.96.5'],
      ['seen.example', '198.18.1.5'],
      'seen.example',
      '10.0.0.1',
    ]);
    const job = await resolved({ log, by: 'log' });
    expect(job).toMatchObject({ state: 'done', counts: { found: 1, beyond: 0 } });
    const { addresses, seen, from } = (await lookUp('seen.example')).resolution;
    expect(addresses.map(({ address }: { address: string }) => address)).toEqual(['198.18.1.5', '198.18.96.5']);
    expect([seen, from]).toEqual(['2026-11-20T08:00:01.000Z', { kind: 'log', name: 'shown' }]);
    const none = await logOf('none-shown', ['a.example']);
    expect((await resolved({ log: none, by: 'log' })).failure.code).toBe('no-destinations-in-log');
  });

  it('can be given up while its hosts are looked up, and what was answered stays', async () => {
    await servers(`127.0.0.1:${port}`);
    await service.call('PATCH', '/api/v1/settings', { dnsPerSecond: 1 });
    const begun = await service.call('POST', '/api/v1/resolves', {
      hosts: Array.from({ length: 50 }, (_, at) => `n${at}.sites.example`),
    });
    const { body } = await service.call('POST', `/api/v1/resolves/${begun.body.id}/cancel`);
    expect(body.state).toBe('cancelled');
    await service.call('PATCH', '/api/v1/settings', { dnsPerSecond: 50 });
  }, 30_000);
});

describe('the look-up of a host', () => {
  it('shows the whole chain, and what each remedy would stop of a log', async () => {
    const hosts = ['there', 'www', 'home', 'there', 'six'].map((name) => `${name}.sites.example`);
    const log = await logOf('chain', [...hosts, ['elsewhere.example', '198.18.96.8'], 'unknown.example']);
    expect((await resolved({ hosts: [...new Set(hosts)] })).counts.found).toBe(4);
    const found = await lookUp('there.sites.example', `&log=${log}`);
    expect(found.resolution).toMatchObject({
      host: 'there.sites.example',
      from: { kind: 'dns' },
      isPrivate: false,
      addresses: [{ address: '198.18.96.8', country: { country: 'XM', network: '198.18.96.0/20', by: 'data' } }],
    });
    expect(found.rules).toMatchObject([{ policy: 'visitor-web', rule: 'not-there', how: 'tests it' }]);
    expect(
      found.remedies.map(({ kind, condition, requests, others }: Record<string, unknown>) => [
        kind,
        condition,
        requests,
        others,
      ]),
    ).toEqual([
      ['address', 'destination: ["198.18.96.8"]', 3, 1],
      ['network', 'destination: ["198.18.96.0/20"]', 4, 2],
      ['host', 'host: [there.sites.example]', 2, 0],
      ['country', 'destination-country: [XM]', 4, 2],
    ]);
    // Each remedy as a rule decides as many.
    for (const { condition, requests } of found.remedies) {
      const text = `policy: visitor-web\ncovers: {clients: [10.40.0.0/16]}\ndestinations: {resolve: true}\ndefault: allow\nrules:\n  - {rule: it, when: {${condition}}, then: block}\n`;
      const { body } = await service.call('POST', '/api/v1/replays', { log, files: [{ name: 'try.yaml', text }] });
      const [policy] = (await reportOf(await ended(service, body.id))).policies;
      expect([condition, policy.rules[0].decided]).toEqual([condition, requests]);
    }
    const { out } = await service.client('look-up', 'show', 'there.sites.example', '--log', log);
    expect(out).toMatch(/this country +destination-country: \[XM\] +4 +2/);
    expect((await lookUp('nobody.example')).resolution).toBeNull();
    expect((await service.call('GET', '/api/v1/look-up?of=a.example&log=nope')).body.code).toBe('unknown-log');
  });
});

describe('live decisions', () => {
  it('never wait for DNS: a host is unseen at first, looked up behind, and known for the next', async () => {
    await servers(`127.0.0.1:${port}`);
    const published = await service.call('POST', '/api/v1/revisions', { message: 'First', acceptWarnings: true });
    expect(published.status).toBe(201);
    const decide = async (host: string) =>
      (await service.ask('POST', '/decide', { peer: '10.40.5.9', host, method: 'GET', path: '/' })).body;
    await expect.poll(() => decide('198.18.96.1')).toMatchObject({ verdict: 'block', rule: 'not-there' });
    expect(await decide('later.sites.example')).toMatchObject({ verdict: 'allow', rule: null });
    await expect
      .poll(() => decide('later.sites.example'), { timeout: 10_000 })
      .toMatchObject({ verdict: 'block', rule: 'not-there' });
    expect(await decide('home.sites.example')).toMatchObject({ verdict: 'allow' });
    // What a file says is in force at once, too.
    await service.call('POST', '/api/v1/resolutions/loads?source=x', 'moved.example,198.18.96.77\n');
    await expect.poll(() => decide('moved.example')).toMatchObject({ verdict: 'block' });
    await expect.poll(() => addressesOf('later.sites.example'), { timeout: 10_000 }).toEqual(['198.18.96.10']);
    // What is recorded says where it went.
    const recorded = async () =>
      (await service.call('GET', '/api/v1/decisions?verdict=block')).body.decisions.map(
        ({ request, destinationCountry }: { request: { host: string }; destinationCountry: string }) =>
          `${request.host} ${destinationCountry}`,
      );
    await expect.poll(recorded).toContain('moved.example XM');
  }, 30_000);

  it('go on by stale answers while no server answers', async () => {
    await servers(await fakeServer(() => undefined));
    const stale = 'stale.example,198.18.96.78,2020-01-01T00:00:00Z,60\n';
    await service.call('POST', '/api/v1/resolutions/loads?source=x', stale);
    const decide = async (host: string) => {
      const begun = performance.now();
      const { body } = await service.ask('POST', '/decide', { peer: '10.40.5.9', host, method: 'GET', path: '/' });
      return { ...body, quick: performance.now() - begun < 1000 };
    };
    await expect.poll(() => decide('stale.example')).toMatchObject({ verdict: 'block', quick: true });
    expect(await decide('silent.example')).toMatchObject({ verdict: 'allow', quick: true });
    expect(await decide('stale.example')).toMatchObject({ verdict: 'block', quick: true });
  }, 30_000);

  it('forget with all else what was looked up behind them', async () => {
    await servers();
    const decide = async (host: string) =>
      (await service.ask('POST', '/decide', { peer: '10.40.5.9', host, method: 'GET', path: '/' })).body.verdict;
    expect(await decide('later.sites.example')).toBe('block');
    const anew = 'new.example,198.18.96.79\n';
    expect((await service.call('POST', '/api/v1/resolutions/loads?source=x&anew=true', anew)).status).toBe(201);
    await expect.poll(() => decide('new.example')).toBe('block');
    expect(await decide('later.sites.example')).toBe('allow');
    expect(await addressesOf('later.sites.example')).toBeUndefined();
  }, 30_000);
});

describe('loads that are old', () => {
  it('are dropped once no state is made of them, and a replay of before says what it said', async () => {
    const load = async (text: string, more = '') =>
      (await service.call('POST', `/api/v1/resolutions/loads?source=x${more}`, text)).body.id as number;
    const age = () =>
      queryDatabase(service.database, "update resolution_loads set loaded_at = now() - interval '60 days'");
    const ids = async () =>
      (await queryDatabase(service.database, 'select id from resolution_loads order by id')).map(
        ({ id }) => id as number,
      );
    await queryDatabase(service.database, 'delete from replays');
    const unneeded = await load('gone.example,198.18.96.80\n', '&anew=true');
    const first = await load('there.example,198.18.96.81\n', '&anew=true');
    const second = await load('home.example,198.18.1.81\n');
    const log = await logOf('of-before', ['there.example', 'home.example']);
    const replay = await replayOf(log);
    const explained = async () =>
      (await service.call('GET', `/api/v1/replays/${replay.id}/requests/1`)).body.explanation;
    const before = await explained();
    expect(before.resolved.text).toContain('198.18.96.81');
    await age();
    await load('new.example,198.18.96.82\n', '&anew=true');
    const left = await ids();
    expect([left.includes(unneeded), left.includes(first), left.includes(second)]).toEqual([false, true, true]);
    expect(await explained()).toEqual(before);
    expect((await service.call('DELETE', `/api/v1/replays/${replay.id}`)).status).toBe(204);
    await age();
    const last = await load('new.example,198.18.96.83\n', '&anew=true');
    expect(await ids()).toEqual([last]);
  }, 60_000);
});
