import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEMO, startService, type TestService } from '../setup/service.js';

/** What is in a list: searched, added to, taken from, brought from a file, compared. */
let service: TestService;
beforeAll(async () => {
  service = await startService();
  await service.client('workspace', 'apply', `${DEMO}workspace`);
});
afterAll(() => service.stop());

const file = (text: string): string => {
  const path = join(service.folder, 'entries.txt');
  writeFileSync(path, text);
  return path;
};

describe('entries of a list', () => {
  it('are added with a note and an end, and removed, and nothing else changes', async () => {
    const before = (await service.client('list', 'show', 'home-workers', '--text')).out;
    const add = [
      'entry',
      'add',
      'home-workers',
      '203.0.113.77',
      '--note',
      'visiting botanist',
      '--until',
      '2026-12-01',
    ];
    expect((await service.client(...add)).out).toBe('home-workers has 4 entries.\n');
    expect((await service.client('list', 'show', 'home-workers', '--text')).out).toBe(
      `${before}  - {entry: 203.0.113.77, note: visiting botanist, until: 2026-12-01T00:00:00.000Z}\n`,
    );
    expect((await service.client(...add)).out).toContain('There already: 203.0.113.77');
    const removed = await service.client('entry', 'remove', 'home-workers', '203.0.113.77', '203.0.113.78');
    expect(removed.out).toContain('Not there: 203.0.113.78');
    expect((await service.client('list', 'show', 'home-workers', '--text')).out).toBe(before);
  });

  it('that do not hold are refused, and reported', async () => {
    const ran = await service.client('entry', 'add', 'home-workers', '203.0.113.300', 'ticket');
    expect(ran.code).toBe(1);
    expect(ran.err).toContain('each of the four numbers of an IPv4 address is at most 255');
    expect(ran.err).toContain('2 problems');
    expect((await service.client('entry', 'add', 'home-worker', '10.0.0.1')).err).toContain(
      'Did you mean `home-workers`?',
    );
  });

  it('are found by what is in them or their note, page by page', async () => {
    expect((await service.client('entry', 'list', 'home-workers', '--search', 'ines')).out).toContain('198.18.16.21');
    const page = await service.call('GET', '/api/v1/lists/home-workers/entries?limit=1&after=1');
    expect(page.body).toMatchObject({ entries: [{ number: 2 }], next: 2 });
    expect((await service.client('entry', 'list', 'home-workers', '--search', 'nobody')).out).toContain(
      'No entry is like that',
    );
  });

  it('come from a file, whose bad lines are reported by their numbers', async () => {
    const path = file('# From a friend\ntrack.example\n\n*.spy.example # both\nnot a host\nhttp://x.example\n');
    const refused = await service.client('entry', 'import', 'trackers', path, '--of', 'domains');
    expect(refused.code).toBe(4);
    expect(refused.err).toContain('line 5');
    expect(refused.err).toContain('line 6');
    expect((await service.client('list', 'show', 'trackers')).code).toBe(4);
    const skipped = await service.client('entry', 'import', 'trackers', path, '--of', 'domains', '--skip');
    expect(skipped.out).toContain('trackers has 2 entries.');
    expect(skipped.out).toContain('line 5: `not a host`');
    expect((await service.client('entry', 'list', 'trackers')).out).toMatch(/\*\.spy\.example +· +both/);
    const odd = await fetch(`${service.url}/api/v1/lists/trackers/entries?of=domains`, {
      method: 'PUT',
      headers: { authorization: `Bearer ${service.key}` },
      body: Uint8Array.of(0xff, 0xfe, 0x61, 0x00),
    });
    const large = await service.call(
      'PUT',
      '/api/v1/lists/trackers/entries?of=domains',
      `${'a.example\n'.repeat(7_000_000)}`,
    );
    expect(large).toMatchObject({ status: 413, body: { code: 'body-too-large' } });
    expect([odd.status, ((await odd.json()) as { code: string }).code]).toEqual([422, 'not-utf-8']);
  });

  it('of many are brought, found, added to and taken from as few are', async () => {
    const many = Array.from({ length: 200_000 }, (_, at) => `n${at}.host${at % 97}.example`).join('\n');
    const brought = await service.client('entry', 'import', 'many', file(many), '--of', 'domains');
    expect(brought.out).toBe('many has 200,000 entries.\n');
    expect((await service.client('entry', 'add', 'many', '.one-more.example')).out).toContain('200,001');
    expect((await service.client('entry', 'remove', 'many', 'n777.host1.example')).out).toBe(
      'many has 200,000 entries.\n',
    );
    const found = await service.call('GET', '/api/v1/look-up?of=a.one-more.example');
    expect(found.body.lists).toMatchObject([{ list: 'many', entry: '.one-more.example' }]);
    expect((await service.call('GET', '/api/v1/look-up?of=n777.host1.example')).body.lists).toEqual([]);
    expect((await service.client('list', 'show', 'many')).out).toContain('more lines');
  });

  it('of many keep every state that they had, without being stored anew', async () => {
    // The garden's check fails, as the mistake that it is there to show.
    await service.call('DELETE', '/api/v1/objects/check/what-visitors-reach', undefined, { 'if-match': '"1"' });
    expect((await service.client('revision', 'publish', '-m', 'A long list', '--accept-warnings')).code).toBe(0);
    const before = (await service.call('GET', '/api/v1/objects/list/many')).body;
    const edit = {
      add: [{ entry: 'x.example', note: 'by hand' }, { entry: 'x.example' }],
      remove: ['n5.host5.example'],
    };
    const edited = await service.call('PATCH', '/api/v1/lists/many/entries', edit);
    expect(edited.body).toMatchObject({ version: before.version + 1, entries: 200_000, present: [], missing: [] });
    const nothing = await service.call('PATCH', '/api/v1/lists/many/entries', { add: edit.add, remove: edit.remove });
    expect(nothing.body).toMatchObject({ version: before.version + 1, present: ['x.example'], missing: edit.remove });
    const diff = await service.client('revision', 'compare');
    expect(diff.out).toContain('x.example');
    expect(diff.out).toContain('n5.host5.example');
    const bad = await service.call('PATCH', '/api/v1/lists/many/entries', { add: [{ entry: 'not a host' }] });
    expect(bad).toMatchObject({ status: 422, body: { issues: [{ code: 'bad-host' }] } });
    const { text } = (await service.call('GET', '/api/v1/objects/list/many')).body;
    expect(text).toBe(`${before.text.replace(/ *- n5\.host5\.example\n/, '')}  - {entry: x.example, note: by hand}\n`);
    const then = await service.call('GET', `/api/v1/objects/list/many/versions/${before.version}`);
    expect(then.body.text).toBe(before.text);
    await service.client('draft', 'discard', 'list', 'many', '--yes');
    expect((await service.call('GET', '/api/v1/look-up?of=n5.host5.example')).body.lists).toMatchObject([
      { list: 'many' },
    ]);
    expect((await service.call('GET', '/api/v1/look-up?of=x.example')).body.lists).toEqual([]);
  });

  it('are compared with each other and with another list', async () => {
    await service.client('entry', 'import', 'a', file('10.0.0.0/8\n10.1.0.0/16\n192.0.2.1\n'), '--of', 'addresses');
    await service.client('entry', 'import', 'b', file('192.0.2.0/24\n'), '--of', 'addresses');
    const ran = await service.client('entry', 'overlap', 'a', 'b');
    expect(ran.out).toContain('Covered by a wider entry: 1');
    expect(ran.out).toMatch(/In b too: 1\n +192\.0\.2\.1 +there +192\.0\.2\.0\/24/);
    expect((await service.client('list', 'show', 'a')).out).toContain('which cover 16,777,217 addresses');
    expect((await service.client('entry', 'overlap', 'a', 'many')).err).toContain(
      '`a` is of addresses, and `many` of domains',
    );
  });

  it('beside it: an application is allowed with what it needs, in one step', async () => {
    const ran = await service.client('application', 'allow', 'web', '--in', 'visitor-web', '--above', 'no-uploads');
    expect(ran.out).toBe('Rule allow-web of visitor-web allows web, with what it needs: name-look-up.\n');
    const { text } = (await service.call('GET', '/api/v1/objects/policy/visitor-web')).body;
    expect(text).toContain(
      '  - rule: allow-web\n    note: "With what it needs: name-look-up"\n    when: {application: [web, name-look-up]}\n    then: allow\n',
    );
    expect(text.indexOf('allow-web')).toBeLessThan(text.indexOf('no-uploads'));
    expect((await service.client('application', 'allow', 'wed', '--in', 'visitor-web')).err).toContain(
      'Did you mean `web`?',
    );
    expect(
      (
        await service.client(
          'application',
          'allow',
          'web',
          '--in',
          'visitor-web',
          '--above',
          'no-upload',
          '--rule',
          'x',
        )
      ).err,
    ).toContain('Did you mean `no-uploads`?');
    expect((await service.client('application', 'allow', 'web', '--in', 'visitor-web')).err).toContain('allow-web');
  });

  it('beside it: catalogues are merged by who is believed first, and go out as they came', async () => {
    const files = ['hedgerow.csv', 'orchard.csv'].map((name) => `${DEMO}catalogue/${name}`);
    const dry = await service.client('catalogue', 'import', 'category', ...files, '--dry-run');
    expect(dry.out).toContain('Would take 10 rows.');
    const ran = await service.client('catalogue', 'import', 'category', ...files);
    expect(ran.out).toContain('+ category weather');
    expect(ran.out).toMatch(/morning\.pollen\.example +weather +orchard\.csv +news +hedgerow\.csv/);
    expect(ran.out).toMatch(/\.willowreel\.example +shopping +orchard\.csv +media +workspace/);
    expect((await service.client('look-up', 'show', 'old.birdsong-radio.example')).out).toContain('media');
    const programs = ['protocols.csv', 'garden.csv'].map((name) => `${DEMO}catalogue/${name}`);
    const again = await service.client('catalogue', 'import', 'application', ...programs);
    expect(again.out).toContain('Took 12 rows.');
    const out = join(service.folder, 'out.csv');
    await service.client('catalogue', 'export', 'application', '--output', out);
    expect((await service.client('catalogue', 'import', 'application', out)).out).toBe('Took 14 rows.\n');
    const yaml = (await service.call('GET', '/api/v1/catalogue/category.yaml')).body;
    expect(yaml).toContain('category: weather');
    const bad = await service.client('catalogue', 'import', 'category', file('categry,entry\na,b.example\n'));
    expect(bad.err).toContain('There is no column categry.');
    const wrong = file('category,entry\nnews,not a host\n');
    expect((await service.client('catalogue', 'import', 'category', wrong)).err).toContain('not a host');
  });

  it('say who uses them before they are changed', async () => {
    const { users } = (await service.call('GET', '/api/v1/lists/wagering-sites')).body;
    expect(users).toEqual([{ policy: 'visitor-web', rule: 'no-wagering', through: ['category wagering'] }]);
    const proxies = (await service.client('list', 'show', 'edge-proxies')).out;
    expect(proxies).toContain('ticket-site covers or trusts by it');
  });
});
