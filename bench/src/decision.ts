import { compilePlan, evaluate, Judge, prepare, subjectOf } from '@jade-fence/core/engine';
import type { Policy } from '@jade-fence/core/policy';
import { largeLog } from './large/log.js';
import { largeCountryData, largeWorkspace } from './large/workspace.js';
import type { Pair } from './measure.js';

const RULES = 200;
const DECISIONS = 100_000;
const SAMPLE = 2_000;
const AT = Date.UTC(2026, 10, 9);

/** Single decisions, each on values that were not met before, against the plain interpreter. */
export function decisionPair(): Pair {
  const prepared = prepare(largeWorkspace(RULES), { countryData: largeCountryData(), at: AT });
  const policy = prepared.workspace.policies.get('large') as Policy;
  const plan = compilePlan(policy, prepared);
  const requests = [...largeLog(DECISIONS)].map((request, index) => ({
    ...request,
    path: request.path && `${request.path}-${index}`,
    agent: request.agent && `${request.agent} ${index}`,
  }));
  return {
    name: 'decision',
    unit: 'ms for one decision of 200 rules on cold values',
    figure: () => {
      const judge = new Judge(plan, { firstMatchOnly: true });
      for (const request of requests) judge.one(request, () => false);
    },
    times: DECISIONS,
    floorName: 'a plain interpreter',
    floor: () => {
      for (const request of requests.slice(0, SAMPLE)) evaluate(policy, subjectOf(request, policy, prepared), prepared);
    },
    floorTimes: SAMPLE,
  };
}
