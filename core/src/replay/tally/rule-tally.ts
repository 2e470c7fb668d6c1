import type { Decision } from '../../engine/index.js';
import type { Field, Policy } from '../../policy/index.js';
import type { RuleReport } from '../report.js';
import { type Counts, count, mostFirst } from './counts.js';
import { TimeSpan } from './time-span.js';

/** Counts what one rule did. */
export class RuleTally {
  #decided = 0;
  #observed = 0;
  #overtaken = 0;
  #blind = 0;
  readonly #overtakenBy: Counts<number> = new Map();
  readonly #unseen: Counts<Field> = new Map();
  readonly #span = new TimeSpan();

  add(decision: Decision, index: number, time: number | undefined): void {
    const outcome = decision.outcomes[index];
    if (outcome && outcome.unseen.length > 0) {
      this.#blind++;
      for (const field of outcome.unseen) count(this.#unseen, field);
    }
    switch (outcome?.role) {
      case 'decided':
        this.#decided++;
        this.#span.add(time);
        return;
      case 'observed':
        this.#observed++;
        this.#span.add(time);
        return;
      case 'overtaken':
        this.#overtaken++;
        count(this.#overtakenBy, decision.decidedBy);
        return;
      case 'blind':
      case 'passed':
      case 'off':
      case undefined:
        return;
    }
  }

  figures(policy: Policy): Omit<RuleReport, 'rule' | 'sentence' | 'stance' | 'then' | 'arrived'> {
    return {
      decided: this.#decided,
      observed: this.#observed,
      overtaken: this.#overtaken,
      blind: this.#blind,
      overtakenBy: mostFirst(this.#overtakenBy).map(([index, requests]) => ({
        rule: policy.rules[index]?.name ?? '',
        requests,
      })),
      unseen: mostFirst(this.#unseen).map(([field, requests]) => ({ field, requests })),
      first: this.#span.first,
      last: this.#span.last,
    };
  }
}
