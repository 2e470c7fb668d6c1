import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { launchBrowser, openPage } from '../setup/browser.js';
import { signIn } from '../setup/console.js';
import { startService, type TestService } from '../setup/service.js';

/** Traffic shows a proxy that was forgotten in `trust`, and why clients are not seen. */
let service: TestService;
let folder: string;

const PROXY = '10.10.1.9';
const policy = (client: string, more = '') =>
  `policy: seed-shop\ncovers: {hosts: [seeds.fennelhill.example]}\nclient: ${client}\n${more}default: allow\nrules:\n  - {rule: here-only, when: {country: [XM]}, then: block}\n`;

interface Line {
  readonly peer: string;
  readonly header?: string;
}

const lines: readonly Line[] = [
  ...Array.from({ length: 30 }, (_, at) => ({ peer: PROXY, header: `198.18.96.${at}` })),
  // A trusted one, somebody who makes the header up now and then, and one who always says the same.
  ...Array.from({ length: 10 }, (_, at) => ({ peer: '10.10.1.4', header: `198.18.5.${at}` })),
  ...Array.from({ length: 10 }, (_, at) => ({
    peer: '198.51.100.7',
    ...(at % 2 === 0 && { header: `192.0.2.${at}` }),
  })),
  ...Array.from({ length: 10 }, () => ({ peer: '198.51.100.8', header: '192.0.2.1' })),
  ...Array.from({ length: 4 }, () => ({ peer: '10.10.1.4' })),
];

beforeAll(async () => {
  service = await startService();
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-proxy-'));
  const log = lines.map(({ peer, header }, at) =>
    JSON.stringify({
      time: new Date(Date.parse('2026-11-20T10:00:00Z') + at * 1000).toISOString(),
      ...{ peer, method: 'GET', scheme: 'https', host: 'seeds.fennelhill.example', path: '/' },
      ...(header !== undefined && { 'some-headers': { 'x-forwarded-for': header } }),
    }),
  );
  writeFileSync(join(folder, 'monday.jsonl'), log.join('\n'));
  writeFileSync(join(folder, 'countries.csv'), '198.18.96.0/20,XM\n198.18.0.0/20,XA\n');
  await service.client('country', 'import', join(folder, 'countries.csv'), '--date', '2026-11-01');
  await service.client('log', 'import', join(folder, 'monday.jsonl'));
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await service.stop();
});

async function replayed(text: string): Promise<{ readonly report: string; readonly review: string }> {
  writeFileSync(join(folder, 'shop.yaml'), text);
  expect((await service.client('workspace', 'apply', join(folder, 'shop.yaml'), '--overwrite')).code).toBe(0);
  const report = await service.client('replay', 'run', 'monday');
  return { report: report.out, review: (await service.client('finding', 'list')).out };
}

it('is reported in the report and the review, with what to write', async () => {
  const { report, review } = await replayed(policy('{from: forwarded, trust: [10.10.1.4]}'));
  expect(report).toContain(`All 30 requests from \`${PROXY}\` name several clients in \`x-forwarded-for\``);
  expect(report).toContain(`If it is your own proxy, add \`${PROXY}\` to \`trust\`.`);
  expect(report).not.toMatch(/from `198\.51\.100\.[78]`|from `10\.10\.1\.4`/);
  expect(review).toContain(`\`seed-shop\` takes \`${PROXY}\` for a client, and all its requests name several others.`);
  // The same page shows it in the console.
  const browser = await launchBrowser();
  try {
    const { page } = await openPage(browser);
    await signIn(page, service);
    await page.getByText('requests fall in').waitFor();
    await page.getByText(/All 30 requests from 10\.10\.1\.9 name several clients/).waitFor();
    await page.getByText(/for a client, and all its requests name several others/).waitFor();
  } finally {
    await browser.close();
  }
});

it('says why the client of a request, and so its country, is not seen', async () => {
  const { report } = await replayed(policy('{from: forwarded, trust: [10.10.1.4]}'));
  expect(report).toContain(
    'The client of 4 requests is not seen, and so neither is its country: the peer is a trusted proxy, and the log does not have the header',
  );
});

it('is reported for a policy that takes the peer for the client', async () => {
  const { report, review } = await replayed(policy('{from: peer}'));
  expect(report).toContain(`write \`client: {from: forwarded, trust: [${PROXY}]}\``);
  expect(review).toContain(`Write \`client: {from: forwarded, trust: [${PROXY}]}\`, if it is your own`);
});

it('is shown as a pseudonym where the policy hides clients', async () => {
  const { report, review } = await replayed(policy('{from: forwarded, trust: [10.10.1.4]}', 'redact: [client]\n'));
  expect(report).toMatch(/All 30 requests from `client-[0-9a-f]+` name several clients/);
  expect(report + review).not.toContain(PROXY);
});

it('is reported no more once it is trusted', async () => {
  const { report, review } = await replayed(policy(`{from: forwarded, trust: [10.10.1.4, ${PROXY}]}`));
  expect(report + review).not.toContain('several');
  expect(report).toMatch(/here-only +block +\S* *64 +30/);
});
