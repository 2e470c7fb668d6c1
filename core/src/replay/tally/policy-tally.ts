import type { Decision } from '../../engine/index.js';
import { defaultSentence, type Policy, ruleSentence } from '../../policy/index.js';
import { remarksOf } from '../remarks.js';
import type { PolicyReport, RuleReport } from '../report.js';
import { RuleTally } from './rule-tally.js';

/** Counts what one policy did with the requests that went to it. */
export class PolicyTally {
  readonly #policy: Policy;
  readonly #rules: readonly RuleTally[];
  #requests = 0;
  #byDefault = 0;
  #blocked = 0;

  constructor(policy: Policy) {
    this.#policy = policy;
    this.#rules = policy.rules.map(() => new RuleTally());
  }

  add(decision: Decision, time: number | undefined): void {
    this.#requests++;
    if (decision.verdict === 'block') this.#blocked++;
    if (decision.decidedBy === this.#rules.length) this.#byDefault++;
    decision.outcomes.forEach((_, index) => {
      (this.#rules[index] as RuleTally).add(decision, index, time);
    });
  }

  report(): PolicyReport {
    const policy = this.#policy;
    let arrived = this.#requests;
    const rules = policy.rules.map((rule, index): RuleReport => {
      const tally = this.#rules[index] as RuleTally;
      const told = {
        rule: rule.name,
        sentence: ruleSentence(rule),
        stance: rule.stance,
        then: rule.then,
        arrived,
        ...tally.figures(policy),
      };
      arrived -= told.decided;
      return told;
    });
    const report = {
      policy: policy.name,
      stance: policy.stance,
      clientFrom: policy.client.from,
      requests: this.#requests,
      verdicts: { allow: this.#requests - this.#blocked, block: this.#blocked },
      rules,
      default: { then: policy.default, sentence: defaultSentence(policy), arrived, decided: this.#byDefault },
    };
    return { ...report, remarks: remarksOf(report) };
  }
}
