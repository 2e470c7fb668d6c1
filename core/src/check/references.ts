import { type Issue, suggest } from '../issue/index.js';
import type { Policy } from '../policy/index.js';
import type { Probe } from '../probe/index.js';
import type { Check } from './check.js';

/** Finds names of policies, rules and probes that are not there. */
export function checkCheck(
  check: Check,
  policies: ReadonlyMap<string, Policy>,
  probes: ReadonlyMap<string, Probe>,
): Issue[] {
  const issues: Issue[] = [];
  const { policy: named, cells, file } = check;
  if (named && !policies.has(named.name)) {
    const suggestion = suggest(named.name, [...policies.keys()]);
    issues.push({ code: 'unknown-name', kind: 'policy', name: named.name, suggestion, file, ...named.at });
  }
  const policy = named && policies.get(named.name);
  const rules = policy && [...policy.rules.map((rule) => rule.name), 'default'];
  const shown = new Set<string>();
  for (const { probe, rule, at } of cells) {
    if (!probes.has(probe.name) && !shown.has(probe.name)) {
      const suggestion = suggest(probe.name, [...probes.keys()]);
      issues.push({ code: 'unknown-name', kind: 'probe', name: probe.name, suggestion, file, ...probe.at });
      shown.add(probe.name);
    }
    if (rule !== undefined && rules && !rules.includes(rule))
      issues.push({ code: 'unknown-value', text: rule, known: rules, suggestion: suggest(rule, rules), file, ...at });
  }
  return issues;
}
