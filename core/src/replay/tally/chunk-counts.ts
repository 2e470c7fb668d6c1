import type { BreakdownCounts } from './breakdowns.js';
import type { ClientDoubts } from './forwarders.js';
import type { NewOutcomes } from './known-outcomes.js';
import type { OutcomeCounts } from './policy-tally.js';
import type { HostRequests } from './unresolved.js';

/** The counts of a chunk for the report of a replay. Plain data, which can go to another thread. */
export interface ChunkCounts {
  /** The number of who judged it, of which outcomes have their numbers. */
  readonly judge: number;
  readonly requests: number;
  readonly uncovered: number;
  /** The earliest and the latest time, in milliseconds since 1970; infinite where no request has one. */
  readonly first: number;
  readonly last: number;
  /** By the places of the policies among those of the run; those without requests are left out. */
  readonly policies: readonly {
    readonly policy: number;
    readonly outcomes: OutcomeCounts;
    /** Outcomes that the judge counts here for the first time, or will. */
    readonly newOutcomes: NewOutcomes;
    readonly doubts: ClientDoubts;
    /** Hosts whose addresses the policy would have to know, each with its requests. */
    readonly unresolved: readonly HostRequests[];
  }[];
  readonly breakdowns: BreakdownCounts;
}
