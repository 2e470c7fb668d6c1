import { withAdded, withKey } from '@jade-fence/core/edit';
import { newPolicy } from '../edit/policy-head.js';

/** What somebody wants of a first policy, in a sentence, and what has to be known for it. */
export interface Intent {
  readonly key: string;
  readonly sentence: string;
  /** What the policy covers. */
  readonly covers: 'hosts' | 'clients';
  /** The label of the field for what is covered, and an example. */
  readonly whose: string;
  readonly example: string;
  /** What decides where no rule does. */
  readonly then: 'allow' | 'block';
  /** Its first rule; undefined where the policy needs none. */
  readonly rule?: {
    readonly name: string;
    readonly field: string;
    readonly then: 'allow' | 'block';
    readonly values: string;
    readonly example: string;
  };
}

const SITE = { covers: 'hosts', whose: 'Host of the site', example: 'tickets.fennelhill.example' } as const;
const PEOPLE = { covers: 'clients', whose: 'Network of your people', example: '10.40.0.0/16' } as const;

/** The intents that people most often begin with. */
export const INTENTS: readonly Intent[] = [
  {
    ...{ key: 'open-countries', sentence: 'Only these countries may reach our site', ...SITE, then: 'block' },
    rule: { name: 'open-countries', field: 'country', then: 'allow', values: 'Countries, by code', example: 'PT ES' },
  },
  {
    ...{ key: 'closed-countries', sentence: 'Everyone may reach our site but these countries', ...SITE, then: 'allow' },
    rule: { name: 'closed-countries', field: 'country', then: 'block', values: 'Countries, by code', example: 'XM' },
  },
  {
    ...{ key: 'offices-only', sentence: 'Only our offices may reach this host', ...SITE, then: 'block' },
    rule: {
      ...{ name: 'offices', field: 'client', then: 'allow' },
      ...{ values: 'Addresses or networks of the offices', example: '198.18.0.0/24' },
    },
  },
  {
    ...{ key: 'closed-sites', sentence: 'Our people may open every site but these', ...PEOPLE, then: 'allow' },
    rule: { name: 'closed-sites', field: 'host', then: 'block', values: 'Sites', example: '.meadowbet.example' },
  },
  {
    ...{ key: 'open-sites', sentence: 'Our people may open these sites and no others', ...PEOPLE, then: 'block' },
    rule: { name: 'open-sites', field: 'host', then: 'allow', values: 'Sites', example: '.fennelhill.example' },
  },
  {
    ...{ key: 'closed-machine', sentence: 'This machine may not go anywhere', covers: 'clients', then: 'block' },
    ...{ whose: 'Its address', example: '10.40.8.7' },
  },
];

/** The text of a policy for an intent, as a person would begin it. */
export function policyFor(
  { covers, then, rule }: Intent,
  name: string,
  whose: readonly string[],
  values: readonly string[],
): string {
  const head = newPolicy(name, { hosts: [], clients: [], [covers]: whose }, then);
  if (!rule) return head;
  const keys = { rule: rule.name, when: { [rule.field]: values }, then: rule.then };
  const written = Object.entries(keys).reduce((text, [key, value]) => withKey(text, key, value), '');
  return withAdded(head, 0, written);
}
