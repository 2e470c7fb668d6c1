import { describe, expect, it } from 'vitest';
import { prepare } from '../engine/index.js';
import type { Policy } from '../policy/index.js';
import { readWorkspace } from '../workspace/index.js';
import { reviewNeeds } from './needs.js';

const CATALOGUE = `---
application: names
when: {port: 53}
---
application: web
when: {port: [80, 443]}
needs: [names]
---
application: meeting
when: {host: meet.example}
needs: [web]
---
list: staff
of: addresses
entries: [10.0.0.0/8]
`;

/** «code rule: what», of one policy. */
function found(rules: readonly string[], byDefault = 'block'): string[] {
  const text = `policy: p\ncovers: {clients: [10.0.0.0/8]}\ndefault: ${byDefault}\nrules:\n${rules.map((rule) => `  - ${rule}\n`).join('')}${CATALOGUE}`;
  const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text }]);
  expect(issues).toEqual([]);
  const policy = workspace.policies.get('p') as Policy;
  return reviewNeeds(policy, prepare(workspace, { countryData: undefined, at: 0 })).map(
    ({ code, rule, what, mend }) => `${code} ${rule}: ${what.replace(/^\S+ /, '')}${mend ? '' : ' (no mend)'}`,
  );
}
const allow = (...names: readonly string[]) => `{rule: ok, when: {application: [${names.join(', ')}]}, then: allow}`;
const block = (...names: readonly string[]) => `{rule: no, when: {application: [${names.join(', ')}]}, then: block}`;

describe('what applications need', () => {
  it('is missing where an application is allowed by its name and no rule lets it through', () => {
    expect(found([allow('web')])).toEqual(['missing-needs ok: allows `web`, which will not work without `names`']);
    expect(found([allow('meeting')])).toEqual([
      'missing-needs ok: allows `meeting`, which will not work without `web` and `names`',
    ]);
    expect(found([allow('meeting', 'web', 'names')])).toEqual([]);
  });

  it('is missing where a rule above stops it, whatever allows it below or by default', () => {
    const what = 'missing-needs ok: allows `web`, which will not work without `names` (no mend)';
    expect(found([block('names'), allow('web', 'names')])).toContain(what);
    expect(found([block('names'), allow('web')], 'allow')).toContain(what);
    expect(found(['{rule: no, when: {port: 53}, then: block}', allow('web', 'names')])).toContain(what);
    expect(found([allow('web', 'names'), block('names')])).toEqual([]);
  });

  it('may be let through by a rule of another kind', () => {
    expect(found([allow('web'), '{rule: low, when: {port: 1-1023}, then: allow}'])).toEqual([]);
    expect(found([allow('web'), '{rule: all, then: allow}'])).toEqual([]);
    expect(found([allow('web'), '{rule: some, when: {host: a.example}, then: allow}'])).toHaveLength(1);
  });

  it('is used by the same clients', () => {
    const ok = '{rule: ok, when: {client: staff, application: web}, then: allow}';
    expect(found([ok, '{rule: names, when: {client: 10.0.0.0/8, application: names}, then: allow}'])).toEqual([]);
    expect(found([ok, '{rule: names, when: {client: 10.1.0.0/16, application: names}, then: allow}'])).toHaveLength(1);
  });

  it('is reported for a rule that blocks it, where a wider rule lets through what needs it', () => {
    const what = 'needed-blocked no: blocks `names`, without which `web` and `meeting` will not work';
    expect(found([block('names')], 'allow')).toEqual([what]);
    expect(found([block('names'), '{rule: all, then: allow}'])).toEqual([what]);
    expect(found([block('names', 'web')], 'allow')).toEqual([
      'needed-blocked no: blocks `names`, without which `meeting` will not work',
      'needed-blocked no: blocks `web`, without which `meeting` will not work',
    ]);
    expect(found([block('names', 'web', 'meeting')], 'allow')).toEqual([]);
    expect(found([block('names')])).toEqual([]);
  });
});
