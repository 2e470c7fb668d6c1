import { START_MESSAGES, type StartErrorCode, type StartMessageName } from './start-messages.js';

/** The service cannot start, for a reason that its user can mend. The message says which, and how. */
export class StartError extends Error {
  readonly code: StartErrorCode;
  readonly remedy: string;

  /** Whether it may be so only for a while, such as a database that is away. */
  readonly mayPass: boolean;

  constructor(code: StartErrorCode, message: string, remedy: string, mayPass = false) {
    super(message);
    this.mayPass = mayPass;
    this.code = code;
    this.remedy = remedy;
  }
}

/** The error with the message of that name, its text made of the values. `mayPass` as in the error. */
export function startError<Name extends StartMessageName>(
  name: Name,
  ...[values, mayPass]: StartValues<Name>
): StartError {
  const message = START_MESSAGES[name] as (values: unknown) => { detail: string; remedy: string };
  const { detail, remedy } = message(values);
  return new StartError(name.split('/')[0] as StartErrorCode, detail, remedy, mayPass);
}

type StartValues<Name extends StartMessageName> =
  Parameters<(typeof START_MESSAGES)[Name]> extends [infer Values] ? [values: Values, mayPass?: boolean] : [];
