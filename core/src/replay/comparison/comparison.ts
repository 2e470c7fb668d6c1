import type { Verdict } from '../../policy/index.js';
import type { KeptOutcome } from '../outcome-text.js';
import type { Slot } from '../slot.js';
import type { Verdicts } from '../verdicts.js';

/** The outcome of a request: its verdict, and what decided it. Without a policy it is not covered. */
export interface Decided {
  readonly verdict: Verdict | 'uncovered';
  readonly policy: string | null;
  /** Null where it was the policy's default. */
  readonly rule: string | null;
}

/** Two replays of one log, request by request. Plain data. */
export interface ComparisonReport {
  readonly requests: number;
  /** Requests with another verdict than before. */
  readonly changed: number;
  /** Requests with the same verdict, which another rule gave. */
  readonly decidedElsewhere: number;
  /** From what to what verdicts changed, the most requests first. */
  readonly changes: readonly (VerdictChange & { readonly requests: number })[];
  /** The same by what decided before and what decides now. */
  readonly causes: readonly Cause[];
}

export interface VerdictChange {
  readonly was: Verdict | 'uncovered';
  readonly is: Verdict | 'uncovered';
}

export interface Cause {
  readonly before: Decided;
  readonly after: Decided;
  readonly requests: number;
  /** The numbers of some of the requests, from 1 on in the log. */
  readonly samples: readonly number[];
}

/** One chunk of both replays. */
export interface ComparedChunk {
  readonly before: Verdicts;
  readonly after: Verdicts;
}

const SAMPLES = 3;
/** Codes of outcomes are fewer than this in a chunk. */
const CODES = 2 ** 17;

interface Counted {
  readonly before: Decided;
  readonly after: Decided;
  requests: number;
  readonly samples: number[];
}

/** Compares two replays chunk by chunk. */
export class Comparison {
  readonly #before: readonly Slot[];
  readonly #after: readonly Slot[];
  readonly #counted = new Map<string, Counted>();
  #requests = 0;

  /** The slots of the two replays. */
  constructor(before: readonly Slot[], after: readonly Slot[]) {
    this.#before = before;
    this.#after = after;
  }

  /** Takes the next chunk; pairs of outcomes are looked at once each. */
  chunk({ before, after }: ComparedChunk): void {
    const places = new Map<number, Counted>();
    for (let row = 0; row < before.rows; row++) {
      const key = before.outcomeCode(row) * CODES + after.outcomeCode(row);
      let counted = places.get(key);
      if (counted === undefined) {
        counted = this.#countedAs(before.outcome(row), after.outcome(row));
        places.set(key, counted);
      }
      counted.requests++;
      if (counted.samples.length < SAMPLES) counted.samples.push(this.#requests + row + 1);
    }
    this.#requests += before.rows;
  }

  report(): ComparisonReport {
    const all = [...this.#counted.values()];
    const causes = all.filter(({ before, after }) => before.verdict !== after.verdict).sort(mostFirst);
    const elsewhere = all.filter(
      ({ before, after }) => before.verdict === after.verdict && nameOf(before) !== nameOf(after),
    );
    const changes = new Map<string, VerdictChange & { requests: number }>();
    for (const { before, after, requests } of causes) {
      const key = `${before.verdict} ${after.verdict}`;
      const known = changes.get(key) ?? { was: before.verdict, is: after.verdict, requests: 0 };
      known.requests += requests;
      changes.set(key, known);
    }
    return {
      requests: this.#requests,
      changed: sum(causes),
      decidedElsewhere: sum(elsewhere),
      changes: [...changes.values()].sort(
        (a, b) => b.requests - a.requests || compareTexts(`${a.was} ${a.is}`, `${b.was} ${b.is}`),
      ),
      causes,
    };
  }

  #countedAs(was: KeptOutcome | undefined, is: KeptOutcome | undefined): Counted {
    const [before, after] = [decided(was, this.#before), decided(is, this.#after)];
    const key = `${before.verdict} ${nameOf(before)} ${after.verdict} ${nameOf(after)}`;
    const known = this.#counted.get(key) ?? { before, after, requests: 0, samples: [] };
    this.#counted.set(key, known);
    return known;
  }
}

/** The name of what decided. */
export function decided(outcome: KeptOutcome | undefined, slots: readonly Slot[]): Decided {
  if (outcome === undefined) return { verdict: 'uncovered', policy: null, rule: null };
  const slot = slots[outcome.slot] as Slot;
  return { verdict: outcome.verdict, policy: slot.policy, rule: slot.rule };
}

const nameOf = ({ policy, rule }: Decided): string => (policy === null ? '' : `${policy}/${rule ?? 'default'}`);
const keyOf = ({ before, after }: Counted): string => `${nameOf(before)} ${nameOf(after)}`;
const mostFirst = (a: Counted, b: Counted): number => b.requests - a.requests || compareTexts(keyOf(a), keyOf(b));
const compareTexts = (a: string, b: string): number => (a === b ? 0 : a < b ? -1 : 1);
const sum = (all: readonly Counted[]): number => all.reduce((total, { requests }) => total + requests, 0);
