import type { Explanation } from '@jade-fence/core/engine';
import type { NoticeBody } from './notice.js';
import type { OfReplay } from './replay.js';
import type { JudgedBody, RequestBody } from './request.js';
import type { StateQuery } from './state.js';

export interface ExplainedBody {
  readonly request: RequestBody;
  /** Null where no policy covers the request. */
  readonly explanation: Explanation | null;
}

export type ExplainedJudgedBody = JudgedBody & ExplainedBody & { readonly of: OfReplay };

/** A request that is given, explained; with what its client would be shown. */
export type ExplainedGivenBody = ExplainedBody & {
  /** Null where it is let through, or nothing is shown but the status. */
  readonly notice: NoticeBody | null;
};

/** A request to explain, in the fields of our JSON Lines form, and by what to judge it. */
export interface ExplanationOrder extends StateQuery {
  readonly request: Readonly<Record<string, unknown>>;
  readonly policy?: string;
  /** The instant at which the expiry of list entries is judged; without it, now. */
  readonly at?: string;
}
