import type { Verdict } from '@jade-fence/core/policy';
import type { ComparisonReport, Decided } from '@jade-fence/core/replay';
import type { PageQuery } from './page.js';
import type { OfReplay, RedactQuery } from './replay.js';
import type { JudgedBody } from './request.js';

/** Two replays of one log. */
export interface OfBoth {
  readonly before: OfReplay;
  readonly after: OfReplay;
}

export type ComparisonBody = ComparisonReport & {
  readonly before: number;
  readonly after: number;
  readonly of: OfBoth;
};

/** A request whose verdict changed: as it is now, and what had decided before. */
export type ChangedBody = JudgedBody & { readonly before: Decided };

export interface ChangesPage {
  readonly of: OfBoth;
  readonly requests: readonly ChangedBody[];
  readonly next: number | null;
}

export interface ComparisonQuery {
  /** The number of the replay before. */
  readonly with: number;
}

export interface ChangesQuery extends ComparisonQuery, PageQuery, RedactQuery {
  /** The verdicts before and now. */
  readonly was?: Verdict | 'uncovered';
  readonly is?: Verdict | 'uncovered';
  readonly policy?: string;
  /** What decided before or decides now. */
  readonly rule?: string;
  /** The country of the client, and of the destination. */
  readonly country?: string;
  readonly destinationCountry?: string;
}
