import { describe, expect, it } from 'vitest';
import { HOSTILE_TEXTS } from '../../hostile/text.arbitrary.js';
import { SlidingWindows } from '../../limit/index.js';
import { ChunkBuilder } from '../../log/index.js';
import type { Policy } from '../../policy/index.js';
import { Run, Verdicts } from '../../replay/index.js';
import { makeRequest, type Request } from '../../request/index.js';
import { evaluate } from '../reference/evaluate.js';
import { subjectOf } from '../subject.js';
import { Judge } from './judge.js';
import { compilePlan } from './plan.js';
import { preparedOf } from './workspace.arbitrary.js';

/*
 * A request can leave something behind in what an engine remembers. Whatever was judged before, a request is judged as
 * it is judged alone, and no text that it carries passes for something else.
 */

const FIELDS: Readonly<Record<string, (text: string | undefined) => Partial<Request>>> = {
  'header.x-kind': (text) => ({ headers: new Map(text === undefined ? [] : [['x-kind', [text]]]), allHeaders: true }),
  agent: (text) => ({ agent: text ?? '' }),
  'header.user-agent': (text) => ({
    headers: new Map(text === undefined ? [] : [['user-agent', [text]]]),
    allHeaders: true,
  }),
  'cookie.pass': (text) => ({
    headers: new Map(text === undefined ? [] : [['cookie', [`pass=${text}`]]]),
    allHeaders: true,
  }),
  'query.q': (text) => ({ path: '/', query: text === undefined ? '' : `q=${encodeURIComponent(text)}` }),
  user: (text) => ({ user: text ?? '' }),
};
const TEXTS = HOSTILE_TEXTS.filter((text) => text !== '' && text.length < 400 && !/[;=\s]/.test(text));

describe.each(Object.keys(FIELDS))('a rule on %s', (field) => {
  const none = field === 'user' ? 'anonymous' : 'absent';
  const prepared = preparedOf([
    {
      policy: 'p',
      default: 'allow',
      rules: [{ rule: 'none', when: { [field]: none }, then: 'block' }],
    },
  ]);
  const policy = prepared.workspace.policies.get('p') as Policy;
  const made = (text: string | undefined) => makeRequest((FIELDS[field] as (typeof FIELDS)[string])(text));
  const reference = (request: Request) => evaluate(policy, subjectOf(request, policy, prepared), prepared).verdict;
  const requests = [...TEXTS.map(made), made(undefined), ...TEXTS.map(made), made(undefined)];

  it('distinguishes absent from every text, live, whatever came before', () => {
    const judge = new Judge(compilePlan(policy, prepared));
    const found = requests.map((request) => judge.one(request, () => false).verdict);
    expect(found).toEqual(requests.map(reference));
    expect(found.at(-1)).toBe('block');
  });

  it('and in a replay', () => {
    const builder = new ChunkBuilder();
    for (const [row, request] of requests.entries()) builder.add(request, row + 1);
    const verdicts = new Verdicts(new Run(prepared, policy).chunk(builder.build()) as never);
    expect(requests.map((_, row) => verdicts.outcome(row)?.verdict)).toEqual(requests.map(reference));
  });
});

describe('keys of limits', () => {
  const prepared = preparedOf([
    {
      policy: 'p',
      default: 'allow',
      rules: [
        { rule: 'flood', limit: { 'more-than': 1, within: '1m', per: ['header.x-kind', 'query.q'] }, then: 'block' },
      ],
    },
  ]);
  const policy = prepared.workspace.policies.get('p') as Policy;
  const made = (kind: string | undefined, query: string, time: number) =>
    makeRequest({
      time,
      path: '/',
      query,
      headers: new Map(kind === undefined ? [] : [['x-kind', [kind]]]),
      allHeaders: true,
    });

  it('are different for different parts, for none and for an empty one', () => {
    const judge = new Judge(compilePlan(policy, prepared));
    const windows = new SlidingWindows({ moreThan: 1, within: 60_000, hold: 0 });
    const kinds = [undefined, '', 'a', 'a\0b', '\0', '-', '1:a'];
    const queries = ['', 'q=', 'q', 'q=b', 'q=%00b', 'q=a%00b', 'q=&q=', 'q=%00'];
    const keys = new Set<string>();
    let time = 0;
    for (const kind of kinds)
      for (const query of queries) {
        const { verdict } = judge.one(made(kind, query, time++), (_, __, { key, time: at, amount }) => {
          keys.add(key);
          return windows.add(key, at, amount);
        });
        // `q` and `q=` are one value.
        expect([kind, query, verdict]).toEqual([kind, query, query === 'q' ? 'block' : 'allow']);
      }
    expect(keys.size).toBe(kinds.length * (queries.length - 1));
  });
});
