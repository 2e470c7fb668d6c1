import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it, onTestFinished } from 'vitest';
import { DEMO, startService, type TestService } from '../setup/service.js';

/** Rules by where traffic goes: the country of the destination's address, whatever its host is called. */
let service: TestService;
let replay: number;
const LOG = `${DEMO}logs/week.jsonl`;

beforeAll(async () => {
  service = await startService();
  for (const args of [
    ['workspace', 'apply', `${DEMO}workspace`],
    ['country', 'import', `${DEMO}country-data.csv`, '--date', '2026-11-01'],
    ['resolution', 'import', `${DEMO}resolutions.csv`],
    ['log', 'import', LOG],
  ])
    expect(await service.client(...args)).toMatchObject({ code: 0 });
  replay = JSON.parse((await service.client('replay', 'run', 'week', '--json')).out).replay.id;
});
afterAll(() => service.stop());

/** How many lines of the log go to the host, from the visitors' network. */
const toHost = (host: string) =>
  readFileSync(LOG, 'utf8')
    .split('\n')
    .filter((line) => line.includes(`"host":"${host}"`) && line.includes('"peer":"10.40.')).length;
/** The demo's hosts in XM by their addresses; one is called after another country. */
const HOSTED_IN_XM = ['www.visit-portugal.example', 'pixel.counting.example', 'www.lucky-petal.example'];

describe('the country of the destination', () => {
  it('is what a rule is about, and not what the host is called', async () => {
    const { body: report } = await service.call('GET', `/api/v1/replays/${replay}/report`);
    const rules = report.policies.find((each: { policy: string }) => each.policy === 'visitor-web').rules;
    const rule = rules.find((each: { rule: string }) => each.rule === 'hosted-in-xm');
    const all = HOSTED_IN_XM.reduce((sum, host) => sum + toHost(host), 0);
    expect(rule.sentence).toBe('Would block requests to destinations in XM.');
    expect(rule.observed + rule.overtaken).toBe(all);
    // The resolutions of the demo lack one host, whose tunnels show no address.
    expect(rule.blind).toBe(toHost('two.adverts.example'));
  });

  it('is counted, filtered by, exported and looked at one by one', async () => {
    const { body: report } = await service.call('GET', `/api/v1/replays/${replay}/report`);
    const byCountry = report.breakdowns['destination-country'].rows;
    const { requests } = byCountry.find((each: { key: string }) => each.key === 'XM');
    const filtered = async (query: string) =>
      (await service.call('GET', `/api/v1/replays/${replay}/requests?limit=1000&${query}`)).body.requests;
    const there = await filtered('destinationCountry=XM');
    expect(there).toHaveLength(requests);
    expect(new Set(there.map((each: { request: { host: string } }) => each.request.host))).toEqual(
      new Set(HOSTED_IN_XM),
    );
    expect(new Set(there.map((each: { destinationCountry: string }) => each.destinationCountry))).toEqual(
      new Set(['XM']),
    );
    expect(await filtered('destination=198.51.100.201')).toHaveLength(
      readFileSync(LOG, 'utf8').split('"198.51.100.201"').length - 1,
    );
    // The inbound requests show no address of their destination.
    const { requests: unseen } = byCountry.find((each: { key: string | null }) => each.key === null);
    expect((await filtered('destinationCountry=unseen')).length).toBe(Math.min(1000, unseen));
    expect(
      unseen +
        byCountry.reduce(
          (sum: number, each: { key: string | null; requests: number }) =>
            sum + (each.key === null ? 0 : each.requests),
          0,
        ),
    ).toBe(5000);
    const csv = (
      await service.client('request', 'export', '--destination-country', 'XM', '--form', 'csv', '--output', '-')
    ).out;
    expect(csv.trim().split('\n')).toHaveLength(1 + requests);
    expect(csv.split('\n')[0]).toContain('country,destination_country,peer');
  });

  it.each([
    ['destinationCountry=Portugal', 'destinationCountry is a code in capitals, or private, unknown or unseen'],
    ['destination=www.visit-portugal.example', '`www.visit-portugal.example` is no address, network or range'],
  ])('is refused as a filter where it is none: %s', async (query, what) => {
    const { status, body } = await service.call('GET', `/api/v1/replays/${replay}/requests?${query}`);
    expect([status, body.detail]).toEqual([400, expect.stringContaining(what)]);
  });

  it('is in what the client prints: report, requests, explanation and look-up', async () => {
    const report = (await service.client('replay', 'show')).out;
    expect(report).toMatch(/destination-country +requests +allow/);
    const requests = (await service.client('request', 'list', '--destination-country', 'XM', '--limit', '5')).out;
    expect(requests).toContain('private → XM');
    const [number] = /^ *(\d+)/m.exec(requests.split('\n').find((line) => line.includes('visit-portugal')) ?? '') ?? [];
    const explained = (await service.client('request', 'explain', '--request', String(number).trim())).out;
    expect(explained).toContain('goes to  198.51.100.201 is in XM: the country data says so of 198.51.100.128/25');
    const found = (await service.client('look-up', 'show', '198.51.100.201')).out;
    expect(found).toContain('hosted-in-xm');
    expect(found).toContain('destination-country XM matches');
  });

  it('is judged live where the gateway sends the address, and is unseen where it does not', async () => {
    const text =
      'policy: guests\ncovers: {clients: [10.40.0.0/16]}\ndefault: allow\n' +
      'rules:\n  - rule: not-there\n    when: {destination-country: [XM]}\n    then: block\n';
    const live = await startService();
    onTestFinished(() => live.stop());
    await live.client('country', 'import', `${DEMO}country-data.csv`);
    await live.call('PUT', '/api/v1/workspace', { files: [{ name: 'guests.yaml', text }] });
    const published = await live.call('POST', '/api/v1/revisions', { message: 'First', acceptWarnings: true });
    expect(published.status).toBe(201);
    const guest = { peer: '10.40.5.9', host: 'www.visit-portugal.example', method: 'GET', path: '/' };
    const decide = async (more: object) => (await live.ask('POST', '/decide', { ...guest, ...more })).body;
    const there = { destination: '198.51.100.201' };
    await expect.poll(() => decide(there)).toMatchObject({ verdict: 'block', rule: 'not-there' });
    expect(await decide({ destination: '::ffff:198.51.100.201' })).toMatchObject({ verdict: 'block' });
    expect(await decide({ destination: '198.51.100.1' })).toMatchObject({ verdict: 'allow', rule: null });
    expect(await decide({})).toMatchObject({ verdict: 'allow', rule: null });
    // A host that is an address is a name like others: where the request goes is for the gateway to say.
    expect(await decide({ host: '198.51.100.201' })).toMatchObject({ verdict: 'allow' });
    const { body } = await live.call('POST', '/api/v1/explanations', { request: guest });
    const [rule] = body.explanation.rules;
    expect([rule.role, rule.unseen]).toEqual(['blind', ['destination-country']]);
    expect(rule.when[0].tests[0].because).toContain('the request does not show the address of its destination');
  });
});
