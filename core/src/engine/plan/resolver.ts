import type { Unseen } from '../decision.js';
import type { Axis } from './axis.js';
import type { ClassTable } from './classes.js';
import { NOT_ASKED } from './classifier.js';
import type { RuleClauses } from './clauses.js';
import type { BlindRule, Outcomes } from './outcome.js';
import { tagsOf } from './outcome.js';
import type { MemberAxis, Plan } from './plan.js';
import { bitsIn, clearVectorBit, hasVectorBit, isEmptyVector, lowestBitOf, setVectorBit, wordsFor } from './vector.js';

/** How a limit answered: not over, over, or what of its key was unseen. */
export type LimitAnswer = boolean | readonly Unseen[];

/** Either the outcome, or the rule whose limit has to be asked first. */
export type Step = { readonly outcome: number } | { readonly ask: number };

type Holds = 'match' | 'no match' | 'unseen';

/**
 * Resolves the outcome of requests that have the same class in every source: once for each such combination, and
 * once more for each way in which the limits on its way answer.
 */
export class Resolver {
  readonly #plan: Plan;
  readonly #tables: readonly ClassTable[];
  readonly #outcomes: Outcomes;
  readonly #match: Uint32Array;
  readonly #possible: Uint32Array;
  /** Words of the vectors of clauses. */
  readonly #live: Uint32Array;
  readonly #late: readonly Late[];
  readonly #ruleWords: number;
  /** Vectors of rules that are written over each time. */
  readonly #matching: Uint32Array;
  readonly #mayMatch: Uint32Array;
  readonly #parts: Readonly<Record<'observed' | 'tagged' | 'overtaken' | 'blind', Uint32Array>>;
  readonly #firstMatchOnly: boolean;

  constructor(plan: Plan, tables: readonly ClassTable[], outcomes: Outcomes, firstMatchOnly: boolean) {
    this.#firstMatchOnly = firstMatchOnly;
    this.#plan = plan;
    this.#tables = tables;
    this.#outcomes = outcomes;
    this.#match = new Uint32Array(plan.clauseWords);
    this.#possible = new Uint32Array(plan.clauseWords);
    this.#live = new Uint32Array(plan.clauseWords);
    this.#late = [plan.late.category, plan.late.application].flatMap((member) =>
      member ? [{ member, match: full(plan.clauseWords), possible: full(plan.clauseWords) }] : [],
    );
    const words = wordsFor(plan.policy.rules.length);
    const vector = () => new Uint32Array(words);
    this.#ruleWords = words;
    this.#matching = vector();
    this.#mayMatch = vector();
    this.#parts = { observed: vector(), tagged: vector(), overtaken: vector(), blind: vector() };
  }

  /** `classes` are those of the combination, one for each source; `answers` those of the limits asked so far. */
  resolve(classes: ArrayLike<number>, answers: readonly LimitAnswer[]): Step {
    this.#narrow(classes);
    this.#resolveMembers();
    const { match, possible } = this.#rules();
    return this.#plan.masks.stepwise
      ? this.#stepwise(match, possible, classes, answers)
      : this.#atOnce(match, possible, classes);
  }

  #narrow(classes: ArrayLike<number>): void {
    const match = this.#match.fill(0xffffffff);
    const possible = this.#possible.fill(0xffffffff);
    // What a source has ruled out, others need not look at.
    const live = this.#live;
    let count = live.length;
    for (let at = 0; at < count; at++) live[at] = at;
    for (let at = 0; at < this.#tables.length && count > 0; at++)
      if (classes[at] !== NOT_ASKED)
        count = (this.#tables[at] as ClassTable).narrow(classes[at] as number, match, possible, live, count);
  }

  /** Resolves categories and applications; writes down what they leave, by clause. */
  #resolveMembers(): void {
    for (const late of this.#late) this.#resolveMember(late);
  }

  #resolveMember({ member, match, possible }: Late): void {
    const { axis, numbers, none, members } = member;
    const matched: number[] = [];
    const unsure: number[] = [];
    let any: Holds = 'no match';
    for (const [name, clauses] of members) {
      const holds = this.#any(clauses);
      if (holds === 'no match') continue;
      if (any !== 'match') any = holds;
      const number = numbers.get(name);
      if (number !== undefined) (holds === 'match' ? matched : unsure).push(number);
    }
    if (none !== undefined && any !== 'match') (any === 'unseen' ? unsure : matched).push(none);
    axis.narrow(match.fill(0xffffffff), possible.fill(0xffffffff), matched, unsure);
    for (let at = 0; at < match.length; at++) {
      this.#match[at] = (this.#match[at] as number) & (match[at] as number);
      this.#possible[at] = (this.#possible[at] as number) & (possible[at] as number);
    }
  }

  /** Any of the clauses, by three-valued logic. */
  #any(clauses: readonly number[]): Holds {
    let holds: Holds = 'no match';
    for (let at = 0; at < clauses.length; at++) {
      const clause = clauses[at] as number;
      if (hasVectorBit(this.#match, clause)) return 'match';
      if (hasVectorBit(this.#possible, clause)) holds = 'unseen';
    }
    return holds;
  }

  /** From the clauses' vectors those of the rules: which match, and which may. */
  #rules(): { match: Uint32Array; possible: Uint32Array } {
    const match = this.#matching.fill(0);
    const possible = this.#mayMatch.fill(0);
    const { clauses, masks } = this.#plan;
    for (let at = 0; at < this.#possible.length; at++)
      for (let word = this.#possible[at] as number; word !== 0; word &= word - 1) {
        const clause = lowestBitOf(word, at);
        const rule = clause < clauses.count ? (clauses.ruleOf[clause] as number) : -1;
        if (rule < 0 || !hasVectorBit(masks.active, rule)) continue;
        const holds = this.#ruleHolds(rule);
        if (holds === 'match') setVectorBit(match, rule);
        if (holds !== 'no match') setVectorBit(possible, rule);
      }
    return { match, possible };
  }

  #ruleHolds(rule: number): Holds {
    const { when, unless } = this.#plan.clauses.rules[rule] as RuleClauses;
    return combined(this.#any(when), this.#any(unless));
  }

  /** Without limits and tests of tags, no rule depends on another. */
  #atOnce(match: Uint32Array, possible: Uint32Array, classes: ArrayLike<number>): Step {
    const { observing, tagging, deciding, ifBlind } = this.#plan.masks;
    const { observed, tagged, overtaken, blind } = this.#parts;
    let first = -1;
    for (let at = 0; at < match.length; at++) {
      const unsure = (possible[at] as number) & ~(match[at] as number);
      const matched = (match[at] as number) | (unsure & (ifBlind[at] as number));
      const decides = matched & (deciding[at] as number);
      let above = first < 0 ? 0xffffffff : 0;
      if (first < 0 && decides !== 0) {
        first = lowestBitOf(decides, at);
        above = (1 << (first & 31)) - 1;
      }
      observed[at] = matched & above & (observing[at] as number);
      tagged[at] = matched & above & (tagging[at] as number);
      overtaken[at] = this.#firstMatchOnly ? 0 : matched & ~above;
      blind[at] = this.#firstMatchOnly ? 0 : unsure;
    }
    if (first >= 0) clearVectorBit(overtaken, first);
    const blindRules = isEmptyVector(blind) ? [] : bitsIn(blind).map((rule) => this.#blindRule(rule, classes));
    const decidedBy = first < 0 ? this.#plan.policy.rules.length : first;
    return {
      outcome: this.#outcomes.number({ decidedBy, met: false, observed, tagged, overtaken, blind: blindRules }),
    };
  }

  /** Evaluates the rules one by one, in order, since tags and limits depend on the rules above. */
  #stepwise(
    match: Uint32Array,
    possible: Uint32Array,
    classes: ArrayLike<number>,
    answers: readonly LimitAnswer[],
  ): Step {
    const { policy, masks } = this.#plan;
    const [observed, tagged, overtaken] = [0, 1, 2].map(() => new Uint32Array(this.#ruleWords)) as [
      Uint32Array,
      Uint32Array,
      Uint32Array,
    ];
    const blind: BlindRule[] = [];
    const tags = new Set<string>();
    let decidedBy = policy.rules.length;
    let asked = 0;
    // A rule that tests tags may hold whatever its other tests say by themselves.
    const candidates = possible.map((word, at) => word | (masks.asksTags[at] as number));
    for (const index of bitsIn(candidates)) {
      const rule = policy.rules[index] as Plan['policy']['rules'][number];
      const decided = decidedBy < index;
      if (decided && this.#firstMatchOnly) break;
      let holds: Holds = hasVectorBit(masks.asksTags, index)
        ? this.#holdsWithTags(index, tags)
        : hasVectorBit(match, index)
          ? 'match'
          : 'unseen';
      let unseen: readonly Unseen[] = holds === 'unseen' ? this.#blindRule(index, classes, tags).unseen : [];
      const counted = holds === 'match' || (holds === 'unseen' && rule.ifBlind === 'match');
      if (counted && rule.limit !== undefined && !decided) {
        const answer = answers[asked++];
        if (answer === undefined) return { ask: index };
        if (answer === false) {
          // Fields that its conditions could not see stay a blind spot.
          if (holds === 'unseen' && !this.#firstMatchOnly) blind.push({ rule: index, unseen });
          continue;
        }
        if (answer !== true) [holds, unseen] = ['unseen', [...new Set([...unseen, ...answer])]];
      }
      if (holds === 'no match') continue;
      if (holds === 'unseen' && !this.#firstMatchOnly) blind.push({ rule: index, unseen });
      if (holds === 'unseen' && rule.ifBlind !== 'match') continue;
      if (rule.stance === 'enforce') for (const tag of tagsOf(rule)) tags.add(tag);
      if (decided) setVectorBit(overtaken, index);
      else if (hasVectorBit(masks.observing, index)) setVectorBit(observed, index);
      else if (hasVectorBit(masks.tagging, index)) setVectorBit(tagged, index);
      else decidedBy = index;
    }
    return { outcome: this.#outcomes.number({ decidedBy, met: false, observed, tagged, overtaken, blind }) };
  }

  /** How a rule holds when its clauses' tests of tags are resolved too. */
  #holdsWithTags(rule: number, tags: ReadonlySet<string>): Holds {
    const { when, unless } = this.#plan.clauses.rules[rule] as RuleClauses;
    const allowed = this.#tagClauses(tags);
    const any = (clauses: readonly number[]) => this.#any(clauses.filter((clause) => hasVectorBit(allowed, clause)));
    return combined(any(when), any(unless));
  }

  /** The clauses that the tags rule in. Tags are always seen. */
  #tagClauses(tags: ReadonlySet<string>): Uint32Array {
    const { tag } = this.#plan.late;
    const allowed = full(this.#match.length);
    tag?.axis.narrow(
      allowed,
      full(this.#match.length),
      [...tags].flatMap((each) => tag.numbers.get(each) ?? []),
    );
    return allowed;
  }

  /** The unseen fields of a rule that cannot be judged: those that its possible clauses depend on. */
  #blindRule(rule: number, classes: ArrayLike<number>, tags?: ReadonlySet<string>): BlindRule {
    const { when, unless } = this.#plan.clauses.rules[rule] as RuleClauses;
    const allowed = tags === undefined || !this.#plan.late.tag ? undefined : this.#tagClauses(tags);
    const unseen = new Set<Unseen>();
    for (const clauses of [when, unless]) {
      const kept = allowed === undefined ? clauses : clauses.filter((clause) => hasVectorBit(allowed, clause));
      if (this.#any(kept) !== 'unseen') continue;
      for (const clause of kept) if (hasVectorBit(this.#possible, clause)) this.#unseenIn(clause, classes, unseen);
    }
    return { rule, unseen: unseen.size > 1 ? [...unseen].sort() : [...unseen] };
  }

  /** Adds the unseen fields that the clause depends on. */
  #unseenIn(clause: number, classes: ArrayLike<number>, unseen: Set<Unseen>): void {
    for (let source = 0; source < this.#tables.length; source++) {
      const number = classes[source] as number;
      if (number === NOT_ASKED) continue;
      const table = this.#tables[source] as ClassTable;
      for (let place = 0; place < table.axes.length; place++)
        if (table.isUnseen(number, place, clause)) unseen.add((table.axes[place] as Axis).field);
    }
    for (const { member, match, possible } of this.#late)
      if (hasVectorBit(possible, clause) && !hasVectorBit(match, clause)) unseen.add(member.axis.field);
  }
}

/** Categories or applications, and the clauses that they leave of the combination at hand. */
interface Late {
  readonly member: MemberAxis;
  readonly match: Uint32Array;
  readonly possible: Uint32Array;
}

/** Conditions without exceptions, by three-valued logic. */
function combined(asked: Holds, excepted: Holds): Holds {
  if (asked === 'no match' || excepted === 'match') return 'no match';
  return asked === 'unseen' || excepted === 'unseen' ? 'unseen' : 'match';
}

const full = (words: number): Uint32Array => new Uint32Array(words).fill(0xffffffff);
