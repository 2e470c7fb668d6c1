import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parquetReadObjects } from 'hyparquet';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { DEMO, startService, type TestService } from '../setup/service.js';

/** An edit between two replays of the demo's week, and what both say of it; and the requests of a report's figures. */
let service: TestService;
let folder: string;

beforeAll(async () => {
  service = await startService();
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-compare-'));
  await service.client('workspace', 'apply', `${DEMO}workspace`);
  await service.client('country', 'import', `${DEMO}country-data.csv`, '--date', '2026-10-31');
  await service.client('replay', 'run', '--import', `${DEMO}logs/week.jsonl`);
  const policy = readFileSync(`${DEMO}workspace/visitor-web.yaml`, 'utf8');
  const edited = policy.replace(
    /^( *)- rule: web-for-all\n/m,
    '$1- rule: no-wagering-now\n$1  when: {category: [wagering]}\n$1  then: block\n$1- rule: web-for-all\n',
  );
  expect(edited).not.toBe(policy);
  writeFileSync(join(folder, 'visitor-web.yaml'), edited);
  await service.client('workspace', 'apply', folder);
  await service.client('replay', 'run', 'week');
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await service.stop();
});

it('says what an edit changes, by verdict and by rule, and the requests themselves', async () => {
  const { code, out } = await service.client('replay', 'compare');
  expect([code, out.split('\n').slice(0, 2)]).toEqual([
    0,
    [
      'Replay 2 against replay 1 of log week, by the draft against the draft as it was, which has changed since.',
      '63 of 5,000 requests have another verdict.',
    ],
  ]);
  expect(out).toMatch(/allow +visitor-web \/ web-for-all +block +visitor-web \/ no-wagering-now +63 +#\d+/);
  const listed = JSON.parse(
    (await service.client('--json', 'replay', 'compare', '--is', 'block', '--limit', '1000')).out,
  );
  expect(listed.requests).toHaveLength(63);
  expect(listed.requests[0]).toMatchObject({
    verdict: 'block',
    rule: 'no-wagering-now',
    before: { verdict: 'allow', policy: 'visitor-web', rule: 'web-for-all' },
  });
  expect((await service.client('replay', 'compare', '1', '2', '--is', 'allow')).out).toContain(
    'No request changed like that.',
  );
  expect((await service.client('replay', 'compare', '1', '1')).out).toContain(
    '0 of 5,000 requests have another verdict.',
  );
  const first = await service.client('replay', 'compare', '--rule', 'no-wagering-now', '--limit', '2');
  expect(first.out).toContain('More: --after');
});

it('pages through the changes without missing one', async () => {
  const numbers: number[] = [];
  for (let after: number | null = 0; after !== null; ) {
    const { body } = await service.call('GET', `/api/v1/replays/2/comparison/requests?with=1&limit=10&after=${after}`);
    numbers.push(...body.requests.map(({ number }: { number: number }) => number));
    after = body.next;
  }
  expect(numbers).toHaveLength(63);
  expect(numbers).toEqual([...new Set(numbers)].sort((a, b) => a - b));
});

it('refuses replays of different logs, and those that are not there', async () => {
  writeFileSync(join(folder, 'other.jsonl'), '{"host":"tickets.fennelhill.example"}\n');
  await service.client('replay', 'run', '--import', join(folder, 'other.jsonl'));
  const other = await service.client('replay', 'compare', '1', '3');
  expect([other.code, other.err]).toEqual([4, expect.stringContaining('are of different logs')]);
  const none = await service.client('replay', 'compare', '1', '99');
  expect([none.code, none.err]).toEqual([4, expect.stringContaining('There is no replay 99')]);
});

it('finds as many requests as each figure of the report says', async () => {
  const { breakdowns } = (await service.call('GET', '/api/v1/replays/1/report')).body;
  for (const dimension of ['country', 'client', 'host', 'category', 'application', 'method', 'status'])
    for (const { key, requests } of breakdowns[dimension].rows.slice(0, 5)) {
      const value = encodeURIComponent(key ?? 'unseen');
      let found = 0;
      for (let after: number | null = 0; after !== null; ) {
        const path = `/api/v1/replays/1/requests?limit=1000&after=${after}&${dimension}=${value}`;
        const { body } = await service.call('GET', path);
        found += body.requests.length;
        after = body.next;
      }
      expect([dimension, key, found]).toEqual([dimension, key, requests]);
    }
});

it('says what a rule would stop, from whom, and at which threshold', async () => {
  const { out } = await service.client('rule', 'tune', 'calendar-rush', '--replay', '1');
  expect(out).toContain('ticket-site / calendar-rush (observe): Would block requests');
  expect(out).toContain('12 requests observed; 2,378 arrive at the rule.');
  expect(out).toMatch(/▸ +4 +1 /);
  const body = (await service.call('GET', '/api/v1/replays/1/evidence?rule=calendar-rush')).body;
  const { curve, moreThan, keysOver } = body.rule.limit;
  expect(curve.find((point: { moreThan: number }) => point.moreThan === moreThan).keys).toBe(keysOver);
  expect(body.shares.country.rows).toEqual([{ key: 'PT', requests: 12 }]);
  expect(body.samples.length).toBeGreaterThan(2);

  const blind = await service.client('rule', 'tune', 'no-uploads', '--replay', '1');
  expect(blind.out).toContain('could not be judged on 1,590 requests, which do not show the path.');
  const lost = await service.client('rule', 'tune', 'no-wagering', '--replay', '1');
  expect(lost.out).toContain('63 requests overtaken; 0 arrive at the rule.');
  const none = await service.client('rule', 'tune', 'no-wagring', '--replay', '1');
  expect([none.code, none.err]).toEqual([4, expect.stringContaining('Did you mean `no-wagering`?')]);
});

it('distinguishes rules of the same name in two policies', async () => {
  const two = await startService();
  try {
    const rule = '{rule: same, when: {path: /x}, then: block}';
    const text = ['a', 'b'].map(
      (name) =>
        `policy: ${name}\ncovers: {hosts: [${name}.example]}\ndefault: allow\nrules: [{rule: first, when: {path: /x}, then: allow}, ${rule}]\n`,
    );
    await two.call('PUT', '/api/v1/workspace', { files: [{ name: 'p.yaml', text: text.join('---\n') }] });
    const lines = ['a', 'b', 'b'].map((name) => JSON.stringify({ host: `${name}.example`, path: '/x' }));
    writeFileSync(join(folder, 'two.jsonl'), lines.join('\n'));
    await two.client('replay', 'run', '--import', join(folder, 'two.jsonl'));
    const which = await two.client('rule', 'tune', 'same');
    expect([which.code, which.err]).toEqual([4, expect.stringContaining('Several policies have a rule `same`: a, b.')]);
    for (const [policy, requests] of [
      ['a', 1],
      ['b', 2],
    ] as const) {
      const { body } = await two.call('GET', `/api/v1/replays/1/evidence?rule=same&policy=${policy}`);
      expect([body.role, body.requests]).toEqual(['overtaken', requests]);
    }
  } finally {
    await two.stop();
  }
});

it('exports the requests with their verdicts, as the report counts them', async () => {
  const to = (name: string) => join(folder, name);
  const { verdicts } = (await service.call('GET', '/api/v1/replays/1/report')).body;
  for (const name of ['blocked.jsonl', 'blocked.csv', 'blocked.parquet'])
    expect(
      (await service.client('request', 'export', '--replay', '1', '--verdict', 'block', '--output', to(name))).out,
    ).toContain(`Wrote ${to(name)}.`);
  const lines = readFileSync(to('blocked.jsonl'), 'utf8')
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line));
  expect(lines).toHaveLength(verdicts.block);
  const file = readFileSync(to('blocked.parquet'));
  const rows = await parquetReadObjects({ file: new Uint8Array(file).buffer });
  expect(rows).toHaveLength(verdicts.block);
  const [first] = lines;
  expect(rows[0]).toMatchObject({
    number: BigInt(first.number),
    time: new Date(first.request.time),
    client: first.client,
    country: first.country,
    host: first.request.host,
    path: first.request.path,
    status: BigInt(first.request.status),
    verdict: 'block',
    policy: first.policy,
    rule: first.rule ?? 'default',
  });
  const csv = readFileSync(to('blocked.csv'), 'utf8').trimEnd().split('\r\n');
  expect(csv[0]).toMatch(/^number,log,line,time,client,country,.*,verdict,policy,rule$/);
  expect(csv).toHaveLength(verdicts.block + 1);
});

it('writes the report as a page and as Markdown', async () => {
  const to = (name: string) => join(folder, name);
  for (const name of ['week.html', 'week.md', 'week.json'])
    expect((await service.client('replay', 'show', '1', '--output', to(name))).out).toContain(`Wrote ${to(name)}.`);
  expect(readFileSync(to('week.html'), 'utf8')).toContain('<h1>Replay 1 of log week</h1>');
  expect(readFileSync(to('week.md'), 'utf8')).toContain('# Replay 1 of log week');
  expect(JSON.parse(readFileSync(to('week.json'), 'utf8')).requests).toBe(5000);
});

it('exports nothing as an empty file, and refuses what is no filter before a file begins', async () => {
  const to = join(folder, 'none.parquet');
  await service.client('request', 'export', '--replay', '1', '--host', 'nowhere.example', '--output', to);
  expect(await parquetReadObjects({ file: new Uint8Array(readFileSync(to)).buffer })).toEqual([]);
  const wrong = await service.client('request', 'export', '--client', 'x', '--output', join(folder, 'wrong.csv'));
  expect([wrong.code, wrong.err]).toEqual([4, expect.stringContaining('`x` is no address')]);
  expect(existsSync(join(folder, 'wrong.csv'))).toBe(false);
});

it('writes texts of strangers to CSV so that no spreadsheet runs them', async () => {
  writeFileSync(join(folder, 'formula.jsonl'), '{"host":"tickets.fennelhill.example","agent":"=1+1"}\n');
  await service.client('replay', 'run', '--import', join(folder, 'formula.jsonl'));
  const { out } = await service.client('request', 'export', '--form', 'csv', '--output', '-');
  expect(out).toContain("'=1+1");
});

it('shows one breakdown whole, and takes filters together', async () => {
  const hours = await service.client('replay', 'show', '1', '--by', 'hour');
  expect(hours.out).toContain('2026-11-09 00:00');
  const some = await service.client(
    'request',
    'list',
    '--replay',
    '1',
    '--host',
    '.fennelhill.example',
    '--status',
    '4xx',
  );
  expect(some.out).toContain('tickets.fennelhill.example');
  const wrong = await service.client('request', 'list', '--replay', '1', '--client', '300.1.1.1', '--path', 'x');
  expect([wrong.code, wrong.err]).toEqual([4, expect.stringContaining('`300.1.1.1` is no address')]);
  expect(wrong.err).toContain('`x` is no path');
  const unknown = await service.client('request', 'list', '--replay', '1', '--category', 'wagring');
  expect(unknown.err).toContain('Did you mean `wagering`?');
});
