import { readdirSync, readFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parse, parseAllDocuments } from 'yaml';
import { documents } from '../engine/plan/workspace.arbitrary.js';
import { readFiles } from '../workspace/index.js';
import { workspaceSchema } from './index.js';

const valid = new Ajv2020({ strict: true, allowUnionTypes: true, strictRequired: false }).compile(workspaceSchema());
const faults = (document: unknown) => (valid(document) ? [] : valid.errors);
const DEMO = new URL('../../../demo/workspace/', import.meta.url);

describe('the schema of workspace files', () => {
  it('takes the demo', () => {
    for (const name of readdirSync(DEMO).filter((each) => each.endsWith('.yaml')))
      for (const document of parseAllDocuments(readFileSync(new URL(name, DEMO), 'utf8')))
        expect([name, faults(document.toJS())]).toEqual([name, []]);
  });

  it('takes every document that holds', { timeout: 60_000 }, () => {
    let taken = 0;
    fc.assert(
      fc.property(documents, (given) => {
        const text = given.map((each) => JSON.stringify(each)).join('\n---\n');
        const { documents: read, issues } = readFiles([{ name: 'a.yaml', text }]);
        if (issues.length > 0) return;
        for (const document of read) {
          taken++;
          expect([document.text, faults(parse(document.text))]).toEqual([document.text, []]);
        }
      }),
      { numRuns: 200 },
    );
    expect(taken).toBeGreaterThan(500);
  });

  it.each([
    ['a key that is none', 'policy: a\ndefault: allow\nruels: []'],
    ['a verdict that is none', 'policy: a\ndefault: alow'],
    ['a field that is none', 'policy: a\ndefault: allow\nrules: [{rule: x, when: {hots: [a.example]}, then: block}]'],
    ['a default that only tags', 'policy: a\ndefault: {tag: [x]}'],
    [
      'a limit without its span',
      'policy: a\ndefault: allow\nrules: [{rule: x, limit: {more-than: 3, per: []}, then: block}]',
    ],
    ['a sort that is none', 'list: a\nof: adresses'],
    ['a name that is none', 'list: A b\nof: users'],
    ['a risk beyond five', 'application: a\nwhen: {port: 1}\nrisk: 9'],
    ['no document of ours', 'ploicy: a'],
  ])('refuses %s, as the reader does', (_what, text) => {
    expect(readFiles([{ name: 'a.yaml', text }]).issues).not.toEqual([]);
    expect(faults(parse(text))).not.toEqual([]);
  });
});
