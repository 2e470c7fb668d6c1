import { OF_FEW_VALUES } from '../../column/index.js';
import type { NameTerm, NoneTerm } from '../../condition/index.js';
import type { Policy, Rule } from '../../policy/index.js';
import type { PreparedRules } from '../prepared.js';
import { Axis } from './axis.js';
import { type Clauses, numberClauses, testsByField } from './clauses.js';
import { numbersOfNames } from './match/names.js';
import type { SourcePlan } from './source/source.js';
import { planSources, termKey } from './sources.js';
import { setVectorBit, wordsFor } from './vector.js';

/** A policy made ready to judge requests fast. Immutable: counters, memories and limits are those of a run. */
export interface Plan {
  readonly policy: Policy;
  readonly prepared: PreparedRules;
  readonly clauses: Clauses;
  readonly clauseWords: number;
  readonly sources: readonly SourcePlan[];
  readonly late: LateAxes;
  /** Rules by what they are, as vectors. */
  readonly masks: RuleMasks;
}

/** The fields that are resolved when the clauses are: categories and applications by their own, tags by rules above. */
export interface LateAxes {
  readonly category: MemberAxis | undefined;
  readonly application: MemberAxis | undefined;
  readonly tag: TagAxis | undefined;
}

export interface MemberAxis {
  readonly axis: Axis;
  /** The number of each name's term, and of the term that means none of all. */
  readonly numbers: ReadonlyMap<string, number>;
  readonly none: number | undefined;
  readonly members: ReadonlyMap<string, readonly number[]>;
}

export interface TagAxis {
  readonly axis: Axis;
  readonly numbers: ReadonlyMap<string, number>;
}

export interface RuleMasks {
  readonly active: Uint32Array;
  readonly observing: Uint32Array;
  readonly tagging: Uint32Array;
  /** Enforced rules that are final. */
  readonly deciding: Uint32Array;
  readonly ifBlind: Uint32Array;
  readonly asksTags: Uint32Array;
  /** Whether rules must be evaluated one by one, since there are limits, or tests of tags. */
  readonly stepwise: boolean;
}

/**
 * Compiles a policy of a prepared workspace. The partition of its lists and country data is made once and shared by all
 * policies and, since no rule is part of it, by what is prepared of the same lists later.
 */
export function compilePlan(policy: Policy, prepared: PreparedRules): Plan {
  const clauses = numberClauses(policy, prepared);
  const tests = testsByField(clauses.tests);
  const sources = planSources({
    tests,
    clauses: clauses.count,
    prepared,
    shared: prepared.shared(),
    paths: policy.paths,
    resolve: policy.destinations.resolve,
  });
  const late = (field: string) => {
    const found = tests.get(field);
    return found && new Axis(found, clauses.count, termKey);
  };
  const resolvedLate = {
    category: memberAxis(late('category'), clauses.categories),
    application: memberAxis(late('application'), clauses.applications),
    tag: tagAxis(late('tag')),
  };
  const masks = masksOf(policy);
  const clauseWords = wordsFor(clauses.count);
  return {
    policy,
    prepared,
    clauses,
    clauseWords,
    sources: inClassifyingOrder(sources),
    late: resolvedLate,
    masks,
  };
}

/**
 * Sources that depend on columns of few values come first: they are classified once a combination of values. Then come
 * those with few terms, which have few classes, so that the tables of pairs stay small; and addresses, which are most
 * numerous, last.
 */
const ADDRESSES: readonly string[] = ['client', 'country', 'destination', 'destination-country'];

function inClassifyingOrder(sources: readonly SourcePlan[]): SourcePlan[] {
  const terms = ({ axes }: SourcePlan) => axes.reduce((sum, axis) => sum + axis.terms.length, 0);
  const rank = ({ axes }: SourcePlan) => {
    if (axes.every(({ field }) => OF_FEW_VALUES.includes(field))) return 0;
    return axes.some(({ field }) => ADDRESSES.includes(field)) ? 2 : 1;
  };
  return sources.toSorted((a, b) => rank(a) - rank(b) || terms(a) - terms(b));
}

function memberAxis(axis: Axis | undefined, members: MemberAxis['members']): MemberAxis | undefined {
  if (axis === undefined) return undefined;
  const none = axis.terms.findIndex((term) => term.type === 'none');
  const numbers = numbersOfNames(axis.terms as (NameTerm | NoneTerm)[]);
  return { axis, numbers, none: none < 0 ? undefined : none, members };
}

const tagAxis = (axis: Axis | undefined): TagAxis | undefined =>
  axis && { axis, numbers: numbersOfNames(axis.terms as NameTerm[]) };

function masksOf({ rules }: Policy): RuleMasks {
  const vector = (is: (rule: Rule) => boolean) => {
    const found = new Uint32Array(wordsFor(rules.length));
    rules.forEach((rule, index) => {
      if (rule.stance !== 'off' && is(rule)) setVectorBit(found, index);
    });
    return found;
  };
  const isTag = (rule: Rule) => rule.then.type === 'tag';
  const asksTags = (rule: Rule) => [...rule.when, ...rule.unless].flat().some((test) => test.field === 'tag');
  return {
    active: vector(() => true),
    observing: vector((rule) => rule.stance === 'observe'),
    tagging: vector((rule) => rule.stance === 'enforce' && isTag(rule)),
    deciding: vector((rule) => rule.stance === 'enforce' && !isTag(rule)),
    ifBlind: vector((rule) => rule.ifBlind === 'match'),
    asksTags: vector(asksTags),
    stepwise: rules.some((rule) => rule.stance !== 'off' && (rule.limit !== undefined || asksTags(rule))),
  };
}
