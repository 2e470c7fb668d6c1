import type { IssueReport } from '@jade-fence/core/issue';
import type { ExitCode } from './exit-code.js';

/** A command cannot do what was asked, for a reason that its user can understand. */
export class Failure extends Error {
  readonly exitCode: ExitCode;
  readonly body: FailureBody;

  constructor(exitCode: ExitCode, body: FailureBody) {
    super(body.detail);
    this.exitCode = exitCode;
    this.body = body;
  }
}

/** In the shape of problem details, also where no service was asked. */
export interface FailureBody {
  readonly code: string;
  readonly detail: string;
  readonly remedy?: string | undefined;
  readonly issues?: readonly (IssueReport | { readonly path: string; readonly what: string })[] | undefined;
}
