import type { ComparisonReport, Decided } from '@jade-fence/core';
import type { OfReplay } from './replay.js';
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
