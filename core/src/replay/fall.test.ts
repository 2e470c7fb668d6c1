import fc from 'fast-check';
import { expect, it } from 'vitest';
import { VERDICTS } from '../policy/index.js';
import { Fall } from './fall.js';
import type { KeptOutcome } from './outcome-text.js';
import type { Slot } from './slot.js';

const SLOTS: readonly Slot[] = [
  { policy: 'a', rule: 'one' },
  { policy: 'a', rule: 'two' },
  { policy: 'a', rule: null },
  { policy: 'b', rule: 'one' },
  { policy: 'b', rule: null },
];
/** What came of a request; only rules of the policy that decided did anything. */
const outcome = fc
  .record({
    slot: fc.nat(SLOTS.length - 1),
    verdict: fc.constantFrom(...VERDICTS),
    sides: fc.array(fc.tuple(fc.constantFrom('observed', 'tagged', 'overtaken', 'blind'), fc.nat(1)), { maxLength: 3 }),
  })
  .map(({ slot, verdict, sides }): KeptOutcome => {
    const first = slot < 3 ? 0 : 3;
    const ruleCount = slot < 3 ? 2 : 1;
    const of = (role: string) => [
      ...new Set(sides.filter(([each]) => each === role).map(([, at]) => first + (at % ruleCount))),
    ];
    return {
      ...{ verdict, slot, observed: of('observed'), tagged: of('tagged'), overtaken: of('overtaken') },
      blind: of('blind').map((each) => ({ slot: each, unseen: ['country'] })),
    };
  });

it('is what going through the requests one by one gives, however they are split', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.option(outcome, { nil: undefined }), fc.integer({ min: 1, max: 5 }))), (all) => {
      const fall = new Fall(SLOTS);
      for (const [each, times] of all) fall.add(each, times);
      const requests = all.flatMap(([each, times]) => Array.from({ length: times }, () => each));
      expect(fall.requests).toBe(requests.length);
      expect(fall.uncovered).toBe(requests.filter((each) => each === undefined).length);
      for (const policy of fall.policies()) {
        const own = requests.filter(
          (each): each is KeptOutcome => each !== undefined && SLOTS[each.slot]?.policy === policy.policy,
        );
        expect(policy.requests).toBe(own.length);
        for (const verdict of VERDICTS)
          expect(policy.verdicts[verdict]).toBe(own.filter((each) => each.verdict === verdict).length);
        const slotOf = (rule: string | null) =>
          SLOTS.findIndex((slot) => slot.policy === policy.policy && slot.rule === rule);
        for (const { rule, ...counts } of policy.rules) {
          const slot = slotOf(rule);
          const that = (holds: (each: KeptOutcome) => boolean) => own.filter(holds).length;
          expect(counts).toEqual({
            arrived: that((each) => each.slot >= slot),
            decided: that((each) => each.slot === slot),
            tagged: that((each) => each.tagged.includes(slot)),
            observed: that((each) => each.observed.includes(slot)),
            overtaken: that((each) => each.overtaken.includes(slot)),
            blind: that((each) => each.blind.some((one) => one.slot === slot)),
          });
        }
        const left = own.filter((each) => each.slot === slotOf(null)).length;
        expect(policy.default).toEqual({ arrived: left, decided: left });
      }
    }),
  );
});
