import type { Site } from '../issue/index.js';
import type { Reference } from '../list/index.js';
import type { Verdict } from '../policy/index.js';

/** Probes × destinations with the verdict that each cell must give. */
export interface Check {
  readonly type: 'check';
  readonly name: string;
  readonly file: string;
  readonly note: string | undefined;
  /** The policy to judge by; undefined: the one that covers each request. */
  readonly policy: Reference | undefined;
  /** When the requests are made, in milliseconds since 1970; undefined: when the check runs. */
  readonly at: number | undefined;
  readonly destinations: ReadonlyMap<string, Destination>;
  readonly cells: readonly Cell[];
}

/** The expected verdict of a probe. */
export interface Destination {
  readonly method: string;
  readonly scheme: string | undefined;
  readonly host: string | undefined;
  readonly port: number | undefined;
  /** Undefined: the request does not show it, as a tunnel does not. */
  readonly path: string | undefined;
  readonly query: string | undefined;
}

export interface Cell {
  readonly probe: Reference;
  readonly destination: string;
  readonly verdict: Verdict | 'uncovered';
  /** The rule that must decide; undefined: any. */
  readonly rule: string | undefined;
  readonly at: Site;
}
