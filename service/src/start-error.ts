/** The service cannot start, for a reason that its user can mend. The message says which, and how. */
export class StartError extends Error {
  readonly code: StartErrorCode;
  readonly remedy: string;

  constructor(code: StartErrorCode, message: string, remedy: string) {
    super(message);
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
  | 'address';
