import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseAddress } from '../address/index.js';
import { prepare } from '../engine/index.js';
import { makeRequest } from '../request/index.js';
import { readWorkspace } from '../workspace/index.js';
import { Live } from './live.js';
import { decidesLiveAlike } from './live.property.js';
import { nextExpiry } from './next-expiry.js';

const policy = (rules: string, more = '') => `policy: ticket-site
covers: {hosts: [tickets.fennelhill.example]}
default: allow
${more}rules:
${rules}`;
const FLOOD = `  - rule: flood
    when: {path: [/sign-in]}
    limit: {more-than: 2, within: 1m, per: [client]}
    then: block
`;

const preparedFrom = (text: string, at = 0) => {
  const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text }]);
  expect(issues).toEqual([]);
  return prepare(workspace, { countryData: undefined, at });
};
const asked = (path: string, host = 'tickets.fennelhill.example') =>
  makeRequest({ peer: parseAddress('198.18.4.20'), method: 'GET', scheme: 'https', host, path });

describe('live decisions', () => {
  it('are one for requests of a policy that fare alike, so that who counts them need not look twice', () => {
    const live = new Live(preparedFrom(policy(FLOOD)));
    const [first, again] = [live.decide(asked('/map'), 1000), live.decide(asked('/beds'), 2000)];
    expect(again).toBe(first);
    for (let at = 0; at < 2; at++) expect(live.decide(asked('/sign-in'), 3000)).toBe(first);
    expect(live.decide(asked('/sign-in'), 3000)).toMatchObject({ verdict: 'block', rule: { name: 'flood' } });
    expect(live.decide(asked('/', 'elsewhere.example'), 4000).verdict).toBe('uncovered');
  });

  it('are what the reference evaluator decides, request by request', { timeout: 60_000 }, () => {
    fc.assert(decidesLiveAlike, { numRuns: 200 });
  });

  it('keep what limits have counted where the rule’s limit is the same, and not where it is another', () => {
    const first = new Live(preparedFrom(policy(FLOOD)));
    const decide = (live: Live, now: number) => live.decide(asked('/sign-in'), now).verdict;
    expect([decide(first, 0), decide(first, 1)]).toEqual(['allow', 'allow']);
    const edited = policy(`  - rule: other\n    when: {path: [/x]}\n    then: block\n${FLOOD}`);
    const second = new Live(preparedFrom(edited), first);
    expect(decide(second, 2)).toBe('block');
    const changed = new Live(preparedFrom(policy(FLOOD.replace('more-than: 2', 'more-than: 3'))), second);
    expect(decide(changed, 3)).toBe('allow');
  });

  it('go on where the clock goes back', () => {
    const live = new Live(preparedFrom(policy(FLOOD)));
    const verdicts = [100_000, 50_000, 40_000].map((now) => live.decide(asked('/sign-in'), now).verdict);
    expect(verdicts).toEqual(['allow', 'allow', 'block']);
  });

  it('let through what no policy covers, or one does that does not enforce', () => {
    const live = new Live(preparedFrom(policy('  - rule: all\n    then: block\n', 'stance: observe\n')));
    expect(live.decide(asked('/', 'elsewhere.example'), 0)).toMatchObject({ verdict: 'uncovered', effect: 'allow' });
    expect(live.decide(asked('/'), 0)).toMatchObject({ verdict: 'block', effect: 'allow', rule: { name: 'all' } });
  });
});

it('the next end of an entry is the next of all lists', () => {
  const list = (name: string, until: string) =>
    `list: ${name}\nof: users\nentries: [ines, {entry: sol, until: ${until}}]\n`;
  const { workspace } = preparedFrom(`${list('a', '2026-12-01T00:00:00Z')}---\n${list('b', '2026-11-01T00:00:00Z')}`);
  expect(nextExpiry(workspace, Date.parse('2026-11-20T00:00:00Z'))).toBe(Date.parse('2026-12-01T00:00:00Z'));
  expect(nextExpiry(workspace, Date.parse('2026-12-20T00:00:00Z'))).toBeUndefined();
});
