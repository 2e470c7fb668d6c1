import type { Prepared } from '../engine/index.js';
import type { Finding } from './finding.js';
import { reviewNames } from './names.js';
import { reviewNeeds } from './needs.js';
import { reviewReach } from './reach.js';
import { reviewRedirects } from './redirect.js';
import { reviewRules } from './rules.js';

export interface ReviewOptions {
  /** The day of the country data in force, in milliseconds since 1970; undefined where it is not known. */
  readonly countryDate: number | undefined;
}

/** Reviews a workspace: what its rules cannot do, whatever the traffic. Policies that are off are left out. */
export function review(prepared: Prepared, { countryDate }: ReviewOptions): Finding[] {
  const policies = [...prepared.workspace.policies.values()].filter((policy) => policy.stance !== 'off');
  return [
    ...policies.flatMap((policy) => [
      ...reviewReach(policy, prepared),
      ...reviewRules(policy, { prepared, countryDate }),
      ...reviewNeeds(policy, prepared),
      ...reviewRedirects(policy, prepared),
    ]),
    ...reviewNames(prepared),
  ];
}
