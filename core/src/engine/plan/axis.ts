import { type FieldName, fieldName, type Term, type Test, valuesOf } from '../../condition/index.js';
import type { ClauseTest } from './clauses.js';
import { clearVectorBit, setVectorBit, wordsFor } from './vector.js';

/**
 * All tests of one field. Knows which clauses hold for a value, given which of the terms the value matches: for each
 * term the clauses that require it, and the negations that it refutes.
 */
export class Axis<T extends Term = Term> {
  readonly field: FieldName;
  readonly terms: readonly T[];
  /** Clauses that the field is tested by. */
  readonly tested: Uint32Array;
  readonly #asking: readonly (readonly number[])[];
  readonly #refuting: readonly (readonly number[])[];
  readonly #negations: readonly { readonly clause: number; readonly terms: readonly number[] }[];
  /** Clauses with one negation only hold until it is refuted; those with more are looked at one by one. */
  readonly #single: Uint32Array;
  readonly #several: ReadonlyMap<number, readonly number[]>;

  constructor(tests: readonly ClauseTest[], clauses: number, keyOf: (term: Term) => string) {
    const numbers = new Map<string, number>();
    const terms: Term[] = [];
    const asking: number[][] = [];
    const refuting: number[][] = [];
    const negations: { clause: number; terms: number[] }[] = [];
    const number = (term: Term): number => {
      const key = keyOf(term);
      let known = numbers.get(key);
      if (known === undefined) {
        known = terms.length;
        numbers.set(key, known);
        terms.push(term);
        asking.push([]);
        refuting.push([]);
      }
      return known;
    };
    this.field = fieldName((tests[0] as ClauseTest).test);
    this.tested = new Uint32Array(wordsFor(clauses));
    for (const { clause, test } of tests) {
      setVectorBit(this.tested, clause);
      for (const value of valuesOf(test as Test)) {
        if (value.type !== 'not') {
          asking[number(value as Term)]?.push(clause);
          continue;
        }
        const inner = value.values.map(number);
        for (const term of inner) refuting[term]?.push(negations.length);
        negations.push({ clause, terms: inner });
      }
    }
    this.terms = terms as T[];
    this.#asking = asking;
    this.#refuting = refuting;
    this.#negations = negations;
    this.#single = new Uint32Array(this.tested.length);
    const byClause = new Map<number, number[]>();
    for (const [each, { clause }] of negations.entries()) byClause.set(clause, [...(byClause.get(clause) ?? []), each]);
    this.#several = new Map([...byClause].filter(([, each]) => each.length > 1));
    for (const [clause, each] of byClause) if (each.length === 1) setVectorBit(this.#single, clause);
  }

  /**
   * Groups the terms that the same clauses require and that refute the same negations: a value that
   * matches one of them does what any other would.
   */
  alike(numbers: readonly number[]): readonly (readonly number[])[] {
    const groups = new Map<string, number[]>();
    for (const number of numbers) {
      const key = `${this.#asking[number]} | ${this.#refuting[number]}`;
      const known = groups.get(key);
      if (known) known.push(number);
      else groups.set(key, [number]);
    }
    return [...groups.values()];
  }

  /** Clears in both vectors what the field rules out, given the matching terms and those that cannot be judged. */
  narrow(
    match: Uint32Array,
    possible: Uint32Array,
    matched: readonly number[],
    unsure: readonly number[] = NONE,
  ): void {
    if (unsure.length === 0) {
      this.#hold(matched, matched);
      for (let at = 0; at < match.length; at++) {
        match[at] = (match[at] as number) & (holding[at] as number);
        possible[at] = (possible[at] as number) & (holding[at] as number);
      }
      return;
    }
    const both = [...matched, ...unsure];
    this.#hold(matched, both);
    for (let at = 0; at < match.length; at++) match[at] = (match[at] as number) & (holding[at] as number);
    this.#hold(both, matched);
    for (let at = 0; at < match.length; at++) possible[at] = (possible[at] as number) & (holding[at] as number);
  }

  /** As `narrow`, where the field is not seen at all. */
  narrowUnseen(match: Uint32Array): void {
    for (let at = 0; at < match.length; at++) match[at] = (match[at] as number) & ~(this.tested[at] as number);
  }

  /** Into `holding`: the clauses that hold when `present` match and the negations that `refute` are refuted. */
  #hold(present: readonly number[], refute: readonly number[]): void {
    if (holding.length < this.tested.length) holding = new Uint32Array(this.tested.length * 2);
    for (let at = 0; at < this.tested.length; at++)
      holding[at] = ~(this.tested[at] as number) | (this.#single[at] as number);
    for (const term of refute)
      for (const negation of this.#refuting[term] as readonly number[])
        clearVectorBit(holding, (this.#negations[negation] as { clause: number }).clause);
    if (this.#several.size > 0)
      for (const [clause, negations] of this.#several)
        if (negations.some((each) => !this.#negations[each]?.terms.some((term) => refute.includes(term))))
          setVectorBit(holding, clause);
    for (const term of present)
      for (const clause of this.#asking[term] as readonly number[]) setVectorBit(holding, clause);
  }
}

const NONE: readonly number[] = [];
/** Scratch of `#hold`, which is read before anything else is done. */
let holding = new Uint32Array(64);

/** The clauses that any of the axes is tested by. */
export function testedBy(axes: readonly Axis[], words: number): Uint32Array {
  const tested = new Uint32Array(words);
  for (const axis of axes)
    for (let at = 0; at < words; at++) tested[at] = (tested[at] as number) | (axis.tested[at] as number);
  return tested;
}
