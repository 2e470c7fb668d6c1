import { tupleKey, WordTable } from '../../column/index.js';
import { loudest, type Policy, type Record as Recorded, type Rule, type Verdict } from '../../policy/index.js';
import type { RuleOutcome, RuleRole, Unseen } from '../decision.js';
import { concluded } from '../semantics/concluded.js';
import { bitsIn, wordsFor } from './vector.js';

/** The outcome of a request under its policy. Requests with the same outcome share it. */
export interface Outcome {
  readonly number: number;
  readonly verdict: Verdict;
  readonly effect: Verdict;
  readonly met: boolean;
  /** The index of the rule that decided; the number of rules where it was the default. */
  readonly decidedBy: number;
  /** The indexes of rules by what they did. */
  readonly observed: readonly number[];
  readonly tagged: readonly number[];
  readonly overtaken: readonly number[];
  readonly blind: readonly BlindRule[];
  readonly tags: readonly string[];
  readonly record: Recorded;
}

export interface BlindRule {
  readonly rule: number;
  readonly unseen: readonly Unseen[];
}

/** The rules that an outcome is made of, as vectors. */
export interface OutcomeParts {
  readonly decidedBy: number;
  readonly met: boolean;
  readonly observed: Uint32Array;
  readonly tagged: Uint32Array;
  readonly overtaken: Uint32Array;
  readonly blind: readonly BlindRule[];
}

/** Numbers the outcomes of one policy as they come up. */
export class Outcomes {
  readonly all: Outcome[] = [];
  readonly #policy: Policy;
  readonly #words: number;
  readonly #table: WordTable;
  readonly #scratch: Uint32Array;
  readonly #blindKeys = new Map<string, number>();

  constructor(policy: Policy) {
    this.#policy = policy;
    this.#words = wordsFor(policy.rules.length);
    this.#table = new WordTable(3 * this.#words + 2);
    this.#scratch = new Uint32Array(3 * this.#words + 2);
  }

  number(parts: OutcomeParts): number {
    const words = this.#words;
    this.#scratch.set(parts.observed, 0);
    this.#scratch.set(parts.tagged, words);
    this.#scratch.set(parts.overtaken, 2 * words);
    const number = this.#numberOf(parts);
    if (number === this.all.length) this.all.push(this.#make(number, parts));
    return number;
  }

  /** The number of what the scratch row says with these. */
  #numberOf({ decidedBy, met, blind }: Pick<Outcome, 'decidedBy' | 'met' | 'blind'>): number {
    const words = this.#words;
    this.#scratch[3 * words] = decidedBy * 2 + (met ? 1 : 0);
    this.#scratch[3 * words + 1] = blind.length === 0 ? 0 : this.#blindKey(blind);
    return this.#table.number(this.#scratch);
  }

  /** The same outcome for a client that has met what the deciding rule asks of it. */
  metNumber(number: number): number {
    const policy = this.#policy;
    const outcome = this.all[number] as Outcome;
    const name = policy.rules[outcome.decidedBy]?.name ?? 'default';
    const conclusion = withoutPolicy(concluded(policy, outcome.decidedBy, [`${policy.name}/${name}`]));
    return this.adopt({ ...outcome, ...conclusion, met: true });
  }

  /** The number here of an outcome that was numbered elsewhere, by the same policy. */
  adopt(outcome: Outcome): number {
    this.#scratch.fill(0);
    this.#mark(outcome.observed, 0);
    this.#mark(outcome.tagged, this.#words);
    this.#mark(outcome.overtaken, 2 * this.#words);
    const number = this.#numberOf(outcome);
    if (number === this.all.length) this.all.push({ ...outcome, number });
    return number;
  }

  /** Sets the bits of rules in the vector that begins at a word of the scratch row. */
  #mark(rules: readonly number[], from: number): void {
    const scratch = this.#scratch;
    for (const rule of rules) {
      const at = from + (rule >> 5);
      scratch[at] = (scratch[at] as number) | (1 << (rule & 31));
    }
  }

  #blindKey(blind: readonly BlindRule[]): number {
    const key = tupleKey(blind.map(({ rule, unseen }) => tupleKey([String(rule), ...unseen])));
    const known = this.#blindKeys.get(key) ?? this.#blindKeys.size + 1;
    this.#blindKeys.set(key, known);
    return known;
  }

  #make(number: number, { decidedBy, met, observed, tagged, overtaken, blind }: OutcomeParts): Outcome {
    const policy = this.#policy;
    const rule = policy.rules[decidedBy];
    const taggedRules = bitsIn(tagged);
    const observedRules = bitsIn(observed);
    return {
      number,
      ...withoutPolicy(concluded(policy, decidedBy, met ? [`${policy.name}/${rule?.name ?? 'default'}`] : [])),
      decidedBy,
      observed: observedRules,
      tagged: taggedRules,
      overtaken: bitsIn(overtaken),
      blind,
      tags: [...new Set(taggedRules.flatMap((each) => tagsOf(policy.rules[each])))],
      record: loudest(
        [...taggedRules, ...observedRules, decidedBy].flatMap((each) => policy.rules[each]?.record ?? []),
      ),
    };
  }
}

const withoutPolicy = ({ verdict, effect, met }: ReturnType<typeof concluded>) => ({ verdict, effect, met });

/** The tags that a rule puts on a request; none of a rule that puts none. */
export const tagsOf = (rule: Rule | undefined): readonly string[] => (rule?.then.type === 'tag' ? rule.then.tags : []);

/** The outcome of each rule of the policy, in order. */
export function ruleOutcomes(policy: Policy, outcome: Outcome): RuleOutcome[] {
  const unseen = new Map(outcome.blind.map((each) => [each.rule, each.unseen]));
  const roles = new Map<number, RuleRole>([
    ...outcome.observed.map((rule): [number, RuleRole] => [rule, 'observed']),
    ...outcome.tagged.map((rule): [number, RuleRole] => [rule, 'tagged']),
    ...outcome.overtaken.map((rule): [number, RuleRole] => [rule, 'overtaken']),
    [outcome.decidedBy, 'decided'],
  ]);
  return policy.rules.map((rule, index): RuleOutcome => {
    if (rule.stance === 'off') return { role: 'off', unseen: [] };
    return { role: roles.get(index) ?? (unseen.has(index) ? 'blind' : 'passed'), unseen: unseen.get(index) ?? [] };
  });
}
