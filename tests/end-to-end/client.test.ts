import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEMO, runClient, startGarden, type TestService } from '../setup/service.js';

/** The garden's administrator at the command line: which were stopped, by which rule, because of what. */
let service: TestService;
let folder: string;
beforeAll(async () => {
  service = await startGarden();
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-files-'));
});
afterAll(async () => {
  await service.stop();
  rmSync(folder, { recursive: true, force: true });
});

const json = async (...args: string[]) => JSON.parse((await service.client('--json', ...args)).out);

describe('the client', () => {
  it('prints the report of a replay, with the order mistake in it', async () => {
    const { code, out } = await service.client('replay', 'show');
    expect(code).toBe(0);
    expect(out).toContain('Replay 1 of log week: 5,000 requests');
    expect(out).toMatch(/no-wagering\s+block\s+0\s+·\s+·\s+63\s+·/);
    expect(out).toContain('To let it act, move it above `web-for-all`.');
    expect(out).toMatch(/no-uploads\s+block\s+1,801\s+19\s+·\s+·\s+1,590/);
  });

  it('answers the same as JSON, without anything around it', async () => {
    const { replay, report } = await json('replay', 'show');
    expect(replay).toMatchObject({ id: 1, log: 'week', state: 'done', total: 5000 });
    expect(report.verdicts.allow + report.verdicts.block + report.uncovered).toBe(5000);
    const harvesters = report.policies[0].rules.find((rule: { rule: string }) => rule.rule === 'no-harvesters');
    expect(harvesters).toMatchObject({
      decided: 281,
      sentence: 'Block requests from addresses in `harvester-networks`, unless the path is /robots.txt.',
    });
  });

  it('lists the requests that a rule decided, page by page', async () => {
    const first = await json('request', 'list', '--rule', 'no-harvesters', '--limit', '200');
    const second = await json(
      'request',
      'list',
      '--rule',
      'no-harvesters',
      '--limit',
      '200',
      '--after',
      String(first.next),
    );
    expect([first.requests.length, second.requests.length, second.next]).toEqual([200, 81, null]);
    expect(new Set([...first.requests, ...second.requests].map(({ rule, verdict }) => `${rule} ${verdict}`))).toEqual(
      new Set(['no-harvesters block']),
    );
    const { out } = await service.client('request', 'list', '--verdict', 'block', '--country', 'XM', '--limit', '2');
    expect(out.split('\n')[0]).toBe('Replay 1 of log week, by the draft.');
    expect(out.split('\n')[3]).toMatch(
      /198\.18\.96\.\d+\s+XM\s+GET tickets\.fennelhill\.example\S+\s+block\s+ticket-site \/ no-harvesters/,
    );
  });

  it('explains one of them: the address, the header that it came from, the list that it is in', async () => {
    const { requests } = await json('request', 'list', '--rule', 'no-harvesters', '--limit', '1');
    const { out } = await service.client('request', 'explain', '--request', String(requests[0].number));
    expect(out).toContain('Blocked by rule no-harvesters, because client 198.18.96.');
    expect(out).toContain('is in list harvester-networks: entry 198.18.96.0/22');
    expect(out).toContain('is taken from x-forwarded-for, which the trusted proxy 10.10.1.');
    expect(out).toContain('the country data says so of 198.18.96.0/20');
  });

  it('explains a request that is given, and ends with 1 where its verdict is not the expected one', async () => {
    const forged = [
      'request',
      'explain',
      '--client',
      '198.19.7.41',
      '--forwarded-for',
      '203.0.113.5',
      '--host',
      'staging.fennelhill.example',
      '--path',
      '/',
    ];
    expect(await service.client(...forged, '--expect', 'block')).toMatchObject({
      code: 0,
      out: expect.stringContaining('it is no trusted proxy, so its forwarding header is ignored'),
    });
    expect((await service.client(...forged, '--expect', 'allow')).code).toBe(1);
    const url = [
      'request',
      'explain',
      '--client',
      '10.10.1.4',
      '--forwarded-for',
      '198.18.4.7',
      '--url',
      'https://tickets.fennelhill.example/%62ack-office/orders',
    ];
    expect((await service.client(...url)).out).toContain('Blocked by rule back-office-for-us');
  });

  it('finds the order mistake mended once the rule is moved up', async () => {
    const text = readFileSync(`${DEMO}workspace/visitor-web.yaml`, 'utf8');
    const [head, wagering] = text.split('  - rule: no-wagering');
    const file = join(folder, 'visitor-web.yaml');
    writeFileSync(
      file,
      head!.replace('  - rule: web-for-all', `  - rule: no-wagering${wagering}\n  - rule: web-for-all`),
    );
    expect((await service.client('workspace', 'apply', file)).out).toMatch(/changed\s+policy\s+visitor-web/);
    const { report } = await json('replay', 'run', 'week', '--at', '2026-11-23T00:00:00Z');
    const rule = report.policies[1].rules.find((each: { rule: string }) => each.rule === 'no-wagering');
    expect(rule).toMatchObject({ decided: 63, overtaken: 0 });
    // What an earlier replay ran stays what it was.
    expect((await service.client('replay', 'show', '1')).out).toContain('move it above `web-for-all`');
    expect((await service.client('request', 'explain', '--replay', '1', '--request', '28')).out).toContain(
      'Allowed by rule web-for-all',
    );
    expect((await service.client('request', 'explain', '--replay', '2', '--request', '28')).out).toContain(
      'Blocked by rule no-wagering',
    );
    expect((await service.client('workspace', 'apply', `${DEMO}workspace`)).code).toBe(0);
  });

  it('gives the same bytes for the same log and workspace', async () => {
    const one = await json('replay', 'run', 'week', '--at', '2026-11-23T00:00:00Z');
    const two = await json('replay', 'run', 'week', '--at', '2026-11-23T00:00:00Z');
    expect(JSON.stringify(one.report)).toBe(JSON.stringify(two.report));
  });

  it('judges all by one policy, and the expiry of entries at a time', async () => {
    const { report } = await json('replay', 'run', 'week', '--policy', 'visitor-web');
    expect(report).toMatchObject({ uncovered: 0, policies: [{ policy: 'visitor-web', requests: 5000 }] });
    const botanist = ['request', 'explain', '--client', '203.0.113.201', '--host', 'staging.fennelhill.example'];
    expect((await service.client(...botanist, '--at', '2026-11-10T00:00:00Z')).out).toContain('(visiting botanist)');
    expect((await service.client(...botanist, '--at', '2026-11-13T00:00:00Z')).out).toContain(
      'Blocked by rule staging-for-nobody-else',
    );
  });

  it('applies nothing in a dry run, and removes what is gone only where asked to', async () => {
    const file = join(folder, 'extra.yaml');
    writeFileSync(file, 'list: extra\nof: domains\nentries: [a.example]\n');
    expect((await service.client('workspace', 'apply', file, '--dry-run')).out).toContain('nothing was stored');
    expect((await json('service', 'show')).lists.map((each: { list: string }) => each.list)).not.toContain('extra');
    await service.client('workspace', 'apply', file);
    expect((await service.client('workspace', 'apply', `${DEMO}workspace`)).out).toContain('Nothing has changed');
    expect((await service.client('workspace', 'apply', `${DEMO}workspace`, '--exact')).out).toMatch(
      /removed\s+list\s+extra/,
    );
    expect((await json('service', 'show')).lists).toHaveLength(10);
  });

  it('prints a policy as sentences and as the text that was stored', async () => {
    expect((await service.client('policy', 'show', 'visitor-web')).out).toContain(
      'Would block requests to hosts in `advert-hosts`.',
    );
    const { out } = await service.client('policy', 'show', 'visitor-web', '--text');
    expect(out).toBe(readFileSync(`${DEMO}workspace/visitor-web.yaml`, 'utf8'));
  });

  it('shows a list with its entries and who uses it', async () => {
    const { out } = await service.client('list', 'show', 'twin-garden-countries');
    expect(out).toContain('used by ticket-site / open-countries, through list ticket-countries');
    expect(out).toContain('Greenmark, home of our twin garden');
    expect((await service.client('list', 'show', 'home-workers')).out).toContain(
      '3 addresses, which cover 3 addresses, 1 of them expired',
    );
    expect((await service.client('list', 'show', 'home-worker')).err).toContain('Did you mean `home-workers`?');
  });

  it('lets a script know how it went', async () => {
    expect(
      (
        await runClient([
          'service',
          'show',
          '--service',
          'http://127.0.0.1:1',
          '--key-file',
          `${service.folder}/access-key`,
        ])
      ).code,
    ).toBe(3);
    expect((await runClient(['service', 'show', '--service', service.url], { JADE_FENCE_KEY: 'wrong' })).code).toBe(3);
    expect((await runClient(['service', 'show', '--key-file', join(folder, 'none')])).err).toContain(
      'There is no access key',
    );
    expect((await runClient(['servcie'])).err).toContain('Did you mean service?');
    expect((await runClient(['servcie'])).code).toBe(2);
    expect((await service.client('request', 'list', '--limit', 'many')).code).toBe(2);
    const refused = await service.client('--json', 'request', 'list', '--rule', 'no-wagerin');
    expect([refused.code, refused.out, JSON.parse(refused.err)]).toEqual([
      4,
      '',
      expect.objectContaining({ code: 'unknown-rule', remedy: 'Did you mean `no-wagering`?' }),
    ]);
  });

  it('teaches with examples, on every command', async () => {
    const { out, code } = await runClient(['--help']);
    expect([code, out]).toEqual([0, expect.stringContaining('jade-fence workspace apply demo/workspace')]);
    for (const command of ['service run', 'workspace check', 'workspace apply', 'policy show', 'request explain'])
      expect((await runClient([...command.split(' '), '--help'])).out).toContain('Examples:');
  });

  it('takes a log from standard input', async () => {
    const env = { JADE_FENCE_KEY: service.key, JADE_FENCE_URL: service.url };
    const ran = await runClient(['log', 'import', '-', '--name', 'piped'], env, '{"host":"a.example"}\n'.repeat(1200));
    expect(ran).toMatchObject({ code: 0, out: expect.stringContaining('Imported 1,200 requests') });
  });

  it('draws no progress in a pipe', async () => {
    expect((await service.client('replay', 'run', 'week')).err).toBe('');
  });
});
