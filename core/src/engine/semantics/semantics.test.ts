import { describe, expect, it } from 'vitest';
import type { Policy, Rule } from '../../policy/index.js';
import { makeRequest } from '../../request/index.js';
import { concluded } from './concluded.js';
import { namesOf } from './user-names.js';

/** What both engines use, so that comparing them cannot find a fault in it: tables of what the language says. */
describe('the names of a user or of groups', () => {
  it.each([
    ['user', { user: 'A.Hazel' }, ['a.hazel']],
    ['user', { user: '' }, []],
    ['user', {}, undefined],
    ['group', { groups: ['Curators', 'STAFF'] }, ['curators', 'staff']],
    ['group', { groups: [] }, []],
    ['group', { user: '', groups: ['guests'] }, ['guests']],
    ['group', { user: '' }, []],
    ['group', { user: 'a.hazel' }, undefined],
    ['group', {}, undefined],
  ] as const)('as a test of %s sees %j: %j', (field, fields, expected) => {
    expect(namesOf(field, makeRequest(fields))).toEqual(expected);
  });
});

describe('the conclusion of a decision', () => {
  const rule = (name: string, then: Rule['then']) => ({ name, then }) as Rule;
  const policy = (stance: Policy['stance'], then: Rule['then'], otherwise: Policy['default']) =>
    ({ name: 'ticket-site', stance, default: otherwise, rules: [rule('one', then)] }) as unknown as Policy;
  const BLOCK = { type: 'block', status: 403, notice: undefined } as unknown as Policy['default'];
  const CONFIRM = { type: 'confirm', lasts: 1000, notice: undefined } as unknown as Policy['default'];

  it.each([
    ['enforce', BLOCK, 0, [], 'block', 'block', false],
    ['observe', BLOCK, 0, [], 'block', 'allow', false],
    ['enforce', CONFIRM, 0, [], 'confirm', 'confirm', false],
    ['enforce', CONFIRM, 0, ['ticket-site/one'], 'allow', 'allow', true],
    ['enforce', CONFIRM, 0, ['herbarium/one', 'ticket-site/two'], 'confirm', 'confirm', false],
    // A block cannot be met, whatever the client shows.
    ['enforce', BLOCK, 0, ['ticket-site/one'], 'block', 'block', false],
    // The default decides where no rule does, and is met by its own name.
    ['enforce', BLOCK, 1, [], 'confirm', 'confirm', false],
    ['enforce', BLOCK, 1, ['ticket-site/one'], 'confirm', 'confirm', false],
    ['enforce', BLOCK, 1, ['ticket-site/default'], 'allow', 'allow', true],
  ] as const)('of a policy that %ss, %j by rule %i, met %j', (stance, then, decidedBy, met, verdict, effect, isMet) => {
    expect(concluded(policy(stance, then, CONFIRM), decidedBy, met)).toMatchObject({ verdict, effect, met: isMet });
  });
});
