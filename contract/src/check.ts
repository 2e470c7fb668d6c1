import type { CheckedGrid } from '@jade-fence/core/checking';
import type { Verdict } from '@jade-fence/core/policy';
import type { StateQuery } from './state.js';

/** What checks gave, of one state of the workspace. */
export interface ChecksBody {
  readonly state: string;
  readonly checks: readonly CheckedGrid[];
  readonly failing: number;
}

export interface ChecksQuery extends StateQuery {
  /** Only this one. */
  readonly name?: string;
}

/** The check that a request is to be written into. */
export interface Expectation {
  readonly check: string;
  /** The verdict that it must have; without it, the one that it had. */
  readonly expect?: Verdict | 'uncovered';
}
