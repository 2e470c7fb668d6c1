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

export type StartErrorCode =
  | 'no-postgresql'
  | 'no-postgres-user'
  | 'data-folder'
  | 'data-in-use'
  | 'database'
  | 'port-in-use'
  | 'address'
  | 'postgresql-version'
  | 'no-data'
  | 'upgrade-failed';
