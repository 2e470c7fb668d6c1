import { readFileSync } from 'node:fs';
import { PROBLEMS, type ProblemCode, REASONS } from '@jade-fence/contract';
import { expect, it } from 'vitest';
import { Refusal } from '../fault/refusal.js';
import { problemBody, statusOf } from './problem.js';

const DOCS = new URL('../../../docs/api.md', import.meta.url);

it('lists every code of a problem in the docs, by the status that it has', () => {
  const rows = [...readFileSync(DOCS, 'utf8').matchAll(/^\| (\d{3}) \| (.*) \|$/gm)];
  const listed = rows.flatMap(([, status, codes = '']) =>
    [...codes.matchAll(/`([^`]+)`/g)].map(([, code]) => [code, Number(status)]),
  );
  const statuses = (Object.keys(PROBLEMS) as ProblemCode[]).map((code) => [code, statusOf(new Refusal(code, 'x'))]);
  expect(Object.fromEntries(listed)).toEqual(Object.fromEntries(statuses));
  expect(listed.length).toBe(statuses.length);
});

it('has a status of its own for each reason', () => {
  const statuses = REASONS.map((reason) => statusOf({ reason }));
  expect(new Set(statuses).size).toBe(REASONS.length);
});

it('reports a fault of a value as invalid, by the code that core has for it', () => {
  expect(problemBody(new Refusal('bad-host', 'The host cannot be read.'))).toMatchObject({
    type: 'urn:jade-fence:problem:bad-host',
    status: 422,
    code: 'bad-host',
  });
});
