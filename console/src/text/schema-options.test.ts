import { workspaceSchema } from '@jade-fence/core/schema';
import { describe, expect, it } from 'vitest';
import { optionsAt, rootsOf, type Schema } from './schema-options.js';

const schema = workspaceSchema() as Schema;
const options = (kind: string, path: readonly string[], at: 'key' | 'value') =>
  optionsAt(schema, rootsOf(schema, kind), { path, at }).map(({ label }) => label);

describe('by the schema of the workspace', () => {
  it.each<[string, string, string[], 'key' | 'value', string[]]>([
    ['keys of a policy', 'policy', [], 'key', ['covers', 'default', 'rules', 'stance']],
    ['keys of its rules', 'policy', ['rules'], 'key', ['rule', 'when', 'unless', 'then', 'limit']],
    ['keys of a rule by itself', 'rule', [], 'key', ['rule', 'when', 'stance']],
    ['fields of a condition', 'rule', ['when'], 'key', ['country', 'host', 'destination-country']],
    ['the negation of a field', 'rule', ['when', 'country'], 'key', ['not']],
    ['words of a stance', 'rule', ['stance'], 'value', ['enforce', 'observe', 'off']],
    ['what a rule does', 'rule', ['then'], 'value', ['allow', 'block']],
    ['what blocking takes', 'rule', ['then', 'block'], 'key', ['notice', 'status']],
    ['sorts of lists', 'list', ['of'], 'value', ['addresses', 'domains']],
    ['beginnings of documents', '', [], 'key', ['policy', 'list', 'schedule', 'check']],
  ])('%s', (_, kind, path, at, some) => {
    expect(options(kind, path, at)).toEqual(expect.arrayContaining(some));
  });

  it('knows nothing of what it does not name', () => {
    expect(options('rule', ['whn'], 'key')).toEqual([]);
    expect(options('rule', ['__proto__', 'x'], 'key')).toEqual([]);
    expect(options('rule', ['note'], 'value')).toEqual([]);
  });
});
