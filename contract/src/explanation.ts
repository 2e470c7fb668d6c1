import type { Explanation, NoticeProblem } from '@jade-fence/core';
import type { OfReplay } from './replay.js';
import type { JudgedBody, RequestBody } from './request.js';

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

/** A notice as a stopped client sees it. */
export type NoticeBody = NoticeProblem & { readonly notice: string };
