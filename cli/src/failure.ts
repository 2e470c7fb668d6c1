import type { IssueReport } from '@jade-fence/core/issue';
import type { ExitCode } from './exit-code.js';
import { MESSAGES, type MessageName } from './messages.js';

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

type Rest<Name extends MessageName> =
  Parameters<(typeof MESSAGES)[Name]> extends [infer Values]
    ? [values: Values, more?: Pick<FailureBody, 'issues'>]
    : [values?: Readonly<Record<string, never>>, more?: Pick<FailureBody, 'issues'>];

/** The failure with the message of that name, its text made of the values. */
export function failure<Name extends MessageName>(exitCode: ExitCode, name: Name, ...[values, more]: Rest<Name>) {
  const message = MESSAGES[name] as (values: unknown) => Pick<FailureBody, 'detail' | 'remedy'>;
  const [code] = name.split('/') as [string];
  return new Failure(exitCode, { code, ...message(values), ...more });
}

/** In the shape of problem details, also where no service was asked. */
export interface FailureBody {
  readonly code: string;
  readonly detail: string;
  readonly remedy?: string | undefined;
  readonly issues?: readonly (IssueReport | { readonly path: string; readonly what: string })[] | undefined;
}
