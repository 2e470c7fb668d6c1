import type { UrlTerm } from '../../../condition/index.js';
import {
  type PathSettings,
  pathMatches,
  pathUnder,
  type UrlPattern,
  type UrlSeen,
  urlMatches,
  urlPatternUnder,
} from '../../../url/index.js';
import type { PreparedRules } from '../../prepared.js';
import { DomainIndex } from './hosts.js';
import { numbered } from './matcher.js';

interface Candidate {
  readonly pattern: UrlPattern;
  readonly number: number;
}

/** The terms of a URL field that match, and those that the request shows too little for. */
export interface UrlMatch {
  readonly matched: number[];
  readonly unsure: number[];
}

/** URL patterns by their hosts, so that a URL is tested against those of its host alone. */
export class UrlMatcher {
  readonly #index = new DomainIndex();
  readonly #candidates: Candidate[] = [];
  /** Expressions name no host, so that they are candidates for every one. */
  readonly #everywhere: Candidate[] = [];

  readonly #paths: PathSettings;

  /** `paths`: how the policy reads paths, in patterns and in requests. */
  constructor(terms: readonly UrlTerm[], { lists }: PreparedRules, paths: PathSettings) {
    this.#paths = paths;
    for (const { term, number } of numbered(terms, 'url')) this.#add(term.pattern, number);
    for (const { term, number } of numbered(terms, 'list'))
      for (const pattern of lists.urls.get(term.name) ?? []) this.#add(pattern, number);
  }

  /** Whether anything but the host can matter for this host. */
  concerns(host: string | undefined): boolean {
    return host === undefined || this.#everywhere.length > 0 || this.#of(host).length > 0;
  }

  /** Whether anything but the host and the path can matter for these; where one is not seen, anything can. */
  concernsPath(host: string | undefined, path: string | undefined): boolean {
    if (host === undefined || path === undefined || this.#everywhere.length > 0) return true;
    const read = pathUnder(this.#paths, path);
    for (const each of this.#of(host)) {
      const { pattern } = this.#candidates[each] as Candidate;
      if (pattern.type === 'parts' && pathMatches(pattern.path, read)) return true;
    }
    return false;
  }

  match(given: UrlSeen): UrlMatch {
    const seen = given.path === undefined ? given : { ...given, path: pathUnder(this.#paths, given.path) };
    const matched: number[] = [];
    const unsure: number[] = [];
    const candidates =
      seen.host === undefined
        ? this.#candidates
        : this.#of(seen.host).map((each) => this.#candidates[each] as Candidate);
    for (const { pattern, number } of [...candidates, ...this.#everywhere]) {
      const holds = urlMatches(pattern, seen);
      if (holds === 'match') matched.push(number);
      else if (holds === 'unseen') unsure.push(number);
    }
    // A URL that one pattern of a list matches is not unsure by another.
    return { matched, unsure: unsure.filter((number) => !matched.includes(number)) };
  }

  #of(host: string): number[] {
    const found: number[] = [];
    this.#index.collect(host, found);
    return found;
  }

  #add(given: UrlPattern, number: number): void {
    const pattern = urlPatternUnder(this.#paths, given);
    if (pattern.type === 'expression') {
      this.#everywhere.push({ pattern, number });
      return;
    }
    this.#index.add(pattern.host, this.#candidates.length);
    this.#candidates.push({ pattern, number });
  }
}
