import { compareKeys, type Key } from './tally/counts.js';

/** The dimensions by which requests that were selected are counted. */
export const EVIDENCE_DIMENSIONS = [
  'country',
  'client',
  'destination-country',
  'host',
  'path',
  'method',
  'agent',
  // What was answered then, and what decides now, as `policy / rule`.
  'status',
  'rule',
] as const;
export type EvidenceDimension = (typeof EVIDENCE_DIMENSIONS)[number];

export type Features = Readonly<Record<EvidenceDimension, Key>>;

/** The most frequent values of a dimension, and how many values there are. */
export interface EvidenceShare {
  readonly rows: readonly { readonly key: Key; readonly requests: number }[];
  readonly more: number;
}

const LISTED = 8;
const SAMPLES = 8;
/** Distinct values beyond this are not counted one by one. */
const MOST_VALUES = 100_000;
/** Samples are chosen among this many, the first of each kind. */
const MOST_CANDIDATES = 2000;
/** The dimensions that define the kinds of requests among candidates. */
const KIND = ['country', 'host', 'method', 'agent'] as const;

/** Gathers what requests are: who they come from, where they go, and some that differ most. */
export class Evidence<T> {
  readonly #features: (request: T) => Features;
  readonly #counts = new Map<EvidenceDimension, Map<Key, number>>(EVIDENCE_DIMENSIONS.map((each) => [each, new Map()]));
  readonly #candidates = new Map<string, { readonly request: T; readonly features: Features }>();
  #requests = 0;

  constructor(features: (request: T) => Features) {
    this.#features = features;
  }

  get requests(): number {
    return this.#requests;
  }

  add(request: T): void {
    this.#requests++;
    const features = this.#features(request);
    for (const dimension of EVIDENCE_DIMENSIONS) {
      const counts = this.#counts.get(dimension) as Map<Key, number>;
      const known = counts.get(features[dimension]);
      if (known !== undefined || counts.size < MOST_VALUES) counts.set(features[dimension], (known ?? 0) + 1);
    }
    if (this.#candidates.size >= MOST_CANDIDATES) return;
    const kind = KIND.map((dimension) => features[dimension]).join('\n');
    if (!this.#candidates.has(kind)) this.#candidates.set(kind, { request, features });
  }

  shares(): Record<EvidenceDimension, EvidenceShare> {
    const shown = (dimension: EvidenceDimension): EvidenceShare => {
      const all = [...(this.#counts.get(dimension) as Map<Key, number>)].map(([key, requests]) => ({ key, requests }));
      all.sort((a, b) => b.requests - a.requests || compareKeys(a.key, b.key));
      return { rows: all.slice(0, LISTED), more: Math.max(0, all.length - LISTED) };
    };
    return Object.fromEntries(EVIDENCE_DIMENSIONS.map((dimension) => [dimension, shown(dimension)])) as Record<
      EvidenceDimension,
      EvidenceShare
    >;
  }

  /** Requests that differ most: the first, then again and again the one least like all that were chosen. */
  samples(): T[] {
    const left = [...this.#candidates.values()];
    const chosen = left.splice(0, 1);
    while (chosen.length < SAMPLES && left.length > 0) {
      const unlike = left.map(({ features }) => Math.min(...chosen.map((each) => difference(features, each.features))));
      const best = unlike.indexOf(Math.max(...unlike));
      if (unlike[best] === 0) break;
      chosen.push(...left.splice(best, 1));
    }
    return chosen.map(({ request }) => request);
  }
}

/** In how many dimensions two requests differ. */
const difference = (a: Features, b: Features): number =>
  EVIDENCE_DIMENSIONS.filter((dimension) => a[dimension] !== b[dimension]).length;
