import type { IssueReport } from '@jade-fence/core';

/** A refusal that the caller can understand and mend, sent as problem details (RFC 9457). */
export class Problem extends Error {
  readonly status: number;
  readonly code: string;
  readonly detail: string;
  readonly remedy: string | undefined;
  readonly issues: readonly (IssueReport | InputIssue)[] | undefined;
  /** Headers that the answer carries besides. */
  readonly headers: Readonly<Record<string, string>>;

  constructor(status: number, code: string, detail: string, more: ProblemMore = {}) {
    super(detail);
    this.status = status;
    this.code = code;
    this.detail = detail;
    this.remedy = more.remedy;
    this.issues = more.issues;
    this.headers = more.headers ?? {};
  }
}

export interface ProblemMore {
  readonly remedy?: string | undefined;
  readonly issues?: readonly (IssueReport | InputIssue)[] | undefined;
  readonly headers?: Readonly<Record<string, string>> | undefined;
}

/** What a problem tells, apart from how it is sent. */
export type ProblemFacts = Pick<Problem, 'status' | 'code' | 'detail'> & Omit<ProblemMore, 'headers'>;

/** What is wrong with one value of a body or query. */
export interface InputIssue {
  readonly path: string;
  readonly what: string;
}

const TITLES: Record<number, string> = {
  400: 'Bad request',
  401: 'Sign-in required',
  403: 'Forbidden',
  404: 'Not found',
  405: 'Method not allowed',
  409: 'Conflict',
  412: 'Changed meanwhile',
  413: 'Too large',
  415: 'Unsupported media type',
  422: 'Not valid',
  428: 'State needed',
  429: 'Too many tries',
  503: 'Not ready',
};

/** What a problem tells, without what it does not have. */
export function problemFacts({ status, code, detail, remedy, issues }: Problem): ProblemFacts {
  return { status, code, detail, ...(remedy && { remedy }), ...(issues && { issues }) };
}

/** The JSON of a problem. */
export function problemBody(problem: Problem): Record<string, unknown> {
  const title = TITLES[problem.status] ?? 'Internal error';
  return { type: `urn:jade-fence:problem:${problem.code}`, title, ...problemFacts(problem) };
}
