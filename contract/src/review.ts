import type { Finding } from '@jade-fence/core/review';

/** What a review of the workspace found. */
export interface ReviewBody {
  readonly findings: readonly Finding[];
}
