import { prepare } from '@jade-fence/core/engine';
import { review } from '@jade-fence/core/review';
import { readWorkspace } from '@jade-fence/core/workspace';
import { describe, expect, it } from 'vitest';
import { INTENTS, policyFor } from './intents.js';

describe.each(INTENTS.map((intent) => [intent.sentence, intent] as const))('%s', (_, intent) => {
  const text = policyFor(intent, 'first', [intent.example], (intent.rule?.example ?? '').split(' '));

  it('is a policy that holds, and of which the review warns of nothing', () => {
    const { workspace, issues } = readWorkspace([{ name: 'first.yaml', text }]);
    expect(issues).toEqual([]);
    const prepared = prepare(workspace, { countryData: undefined, at: 0 });
    const warnings = review(prepared, { countryDate: undefined }).filter(
      ({ code, severity }) => severity === 'warning' && code !== 'no-country-data',
    );
    expect(warnings).toEqual([]);
  });

  it('says what was meant, a rule to a block', () => {
    expect(text).toMatch(new RegExp(`^policy: first\\ncovers: {${intent.covers}: \\[`));
    const { policies } = readWorkspace([{ name: 'first.yaml', text }]).workspace;
    expect(policies.get('first')?.rules).toHaveLength(intent.rule ? 1 : 0);
    if (intent.rule) expect(text).toContain(`  - rule: ${intent.rule.name}\n    when: {${intent.rule.field}: [`);
  });
});

it('takes words that YAML would read otherwise', () => {
  const [first] = INTENTS;
  const text = policyFor(first as (typeof INTENTS)[0], 'first', ['a.example'], ['NO', 'ES']);
  const { workspace, issues } = readWorkspace([{ name: 'first.yaml', text }]);
  expect(issues).toEqual([]);
  expect(JSON.stringify(workspace.policies.get('first')?.rules[0]?.when)).toContain('NO');
});
