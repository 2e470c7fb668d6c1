import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseAddress } from '../address/index.js';
import { evaluate, prepare, subjectOf } from '../engine/index.js';
import { documents, preparedOf, request } from '../engine/plan/workspace.arbitrary.js';
import type { Policy } from '../policy/index.js';
import { makeRequest, type Request } from '../request/index.js';
import { readWorkspace } from '../workspace/index.js';
import { effectivePolicy } from './effective.js';
import { simplifiedFor } from './simplify.js';

const GARDEN = `list: guide-tablets
of: addresses
entries: [10.40.8.0/24]
---
policy: visitor-web
covers: {clients: [10.40.0.0/16]}
default: block
rules:
  - rule: tablets-of-guides
    when: {client: [guide-tablets], host: [video.willowreel.example]}
    then: allow
  - rule: staff-only
    when: {client: [10.40.9.0/24]}
    then: allow
  - rule: guides
    when: {client: [guide-tablets]}
    then: {tag: guide}
  - rule: no-uploads
    when: {method: [POST]}
    unless: {tag: [guide]}
    then: block
  - rule: web-for-all
    when: {client: [10.40.0.0/16]}
    then: allow
  - rule: never-reached
    then: block
`;

function effective(client: string) {
  const { workspace, issues } = readWorkspace([{ name: 'garden.yaml', text: GARDEN }]);
  expect(issues).toEqual([]);
  const prepared = prepare(workspace, { countryData: undefined, at: 0 });
  const policy = workspace.policies.get('visitor-web') as Policy;
  return effectivePolicy(policy, subjectOf(makeRequest({ peer: parseAddress(client) }), policy, prepared), prepared);
}

describe('what a policy can do to a client', () => {
  it('reports the rules that can apply, without what always holds for it', () => {
    const tablet = effective('10.40.8.7');
    expect(tablet.rules).toEqual([
      {
        rule: 'tablets-of-guides',
        sentence: 'Allow requests to video.willowreel.example.',
        stance: 'enforce',
        always: false,
      },
      { rule: 'guides', sentence: 'Tag every request as `guide`.', stance: 'enforce', always: true },
      { rule: 'web-for-all', sentence: 'Allow every request.', stance: 'enforce', always: true },
    ]);
    expect(tablet.leftOut).toEqual([
      { rule: 'staff-only', why: 'its conditions cannot hold' },
      { rule: 'no-uploads', why: 'an exception holds' },
      { rule: 'never-reached', why: 'a rule above decides everything' },
    ]);
    expect(tablet.default).toBeNull();
  });

  it('is another for another client', () => {
    const phone = effective('10.40.3.7');
    expect(phone.rules.map(({ sentence }) => sentence)).toEqual(['Block POST requests.', 'Allow every request.']);
    const elsewhere = effective('198.18.97.3');
    expect(elsewhere.rules.map(({ rule }) => rule)).toEqual(['no-uploads', 'never-reached']);
  });

  it('decides every request of the client as the whole policy does', { timeout: 60_000 }, () => {
    fc.assert(
      fc.property(documents, request, fc.boolean(), (given, asked, showsUser) => {
        const prepared = preparedOf(given);
        const policy = prepared.workspace.policies.get('p') as Policy;
        const whole = subjectOf(asked, policy, prepared);
        const seen: Partial<Request> = { peer: asked.peer, headers: asked.headers, ...(showsUser && userOf(asked)) };
        const shown = makeRequest({ ...seen, headers: new Map() });
        // Whatever a subject holds of its request is of what is shown, its path too; the client was found before.
        const known = { ...subjectOf(shown, policy, prepared), client: whole.client, origin: whole.origin };
        const left = simplifiedFor(policy, known, prepared).policy;
        const decisions = [policy, left].map((each) => {
          const { verdict, effect, decidedBy, tags } = evaluate(each, whole, prepared);
          return { verdict, effect, tags, by: each.rules[decidedBy]?.name };
        });
        expect(decisions[1]).toEqual(decisions[0]);
      }),
      { numRuns: 300 },
    );
  });
});

const userOf = ({ user, groups }: Request) => ({ user, groups });
