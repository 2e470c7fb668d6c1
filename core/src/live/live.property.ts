import fc from 'fast-check';
import { expect } from 'vitest';
import { createRouter, evaluate, flatRules, preparedRules, subjectOf } from '../engine/index.js';
import { documents, preparedOf, request } from '../engine/plan/workspace.arbitrary.js';
import { PlainLimits } from '../engine/reference/plain-limits.arbitrary.js';
import type { Policy } from '../policy/index.js';
import { Live } from './live.js';

/** Live decisions, by rules that came from another thread, are what the reference evaluator decides, request by request. */
export const decidesLiveAlike = fc.property(
  documents,
  fc.array(request, { minLength: 1, maxLength: 8 }),
  (given, requests) => {
    const prepared = preparedOf(given);
    const live = new Live(preparedRules(structuredClone(flatRules(prepared))));
    const router = createRouter(prepared);
    const limits = new Map<string, PlainLimits>();
    for (const [second, each] of requests.entries()) {
      const now = Date.UTC(2026, 10, 12, 9) + second * 1000;
      const { verdict, effect, rule, tags, record } = live.decide(each, now);
      const timed = { ...each, time: now };
      const own = router.route(timed);
      if (!own) {
        expect(verdict).toBe('uncovered');
        continue;
      }
      const counted = limits.get(own.name) ?? new PlainLimits();
      limits.set(own.name, counted);
      const subject = subjectOf(timed, own, prepared);
      expect(live.clientOf(timed, live.policyFor(timed) as Policy)).toEqual({
        address: subject.client.address,
        country: subject.origin?.country,
      });
      const expected = evaluate(own, subject, prepared, counted);
      expect({ verdict, effect, rule: rule?.name, tags, record }).toEqual({
        verdict: expected.verdict,
        effect: expected.effect,
        rule: own.rules[expected.decidedBy]?.name,
        tags: expected.tags,
        record: expected.record,
      });
    }
  },
);
