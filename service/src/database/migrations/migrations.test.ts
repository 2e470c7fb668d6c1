import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { migrationSource } from './index.js';

const FOLDER = new URL('.', import.meta.url);

/** What databases out there have run. A change of one of these would never reach them: it takes a migration of its own. */
const PUBLISHED: Readonly<Record<string, string>> = {
  '0001-workspace-logs-replays': 'aa8bfc049dbf685e',
  '0002-verdicts-by-outcome': 'dc52f107c486f6b2',
  '0003-breakdowns': '378c2862582add60',
  '0004-jobs': '118806abbb456dc7',
  '0005-summaries': 'feadd6a5a98f6ae5',
  '0006-mappings': '371ce9e111e27f7a',
  '0007-redaction': '6de29462c0111761',
  '0008-paths': '3f89b25530268650',
  '0009-people-and-revisions': 'cf8f1377a4f3cd3e',
  '0010-decisions': 'df74c89a1865836c',
  '0011-edited-lists': 'fc5c489aaaeea6fa',
  '0012-feeds': 'b9aade4cc366cfa6',
  '0013-country-data-in-force': '6799911a14061db8',
  '0014-packed-as-it-is': 'b1771a4b708c07a3',
  '0015-imports': '6a623513d40dfd7f',
};

it('those that were published are never edited', () => {
  for (const [name, hash] of Object.entries(PUBLISHED)) {
    const text = readFileSync(new URL(`${name}.ts`, FOLDER));
    expect([name, createHash('sha256').update(text).digest('hex').slice(0, 16)]).toEqual([name, hash]);
  }
});

it('each file of the folder is run, in the order of their numbers', async () => {
  const files = readdirSync(FOLDER).filter((file) => /^\d{4}-.*(?<!\.test|\.d)\.ts$/.test(file));
  const named = await migrationSource.getMigrations([]);
  expect(named.map(({ name }) => `${name}.ts`)).toEqual(files.sort());
});
