import { CallError } from './call.js';

/** Whether a later try may succeed: the service does not answer, or says that it is not ready (503). */
export const isPassing = (error: Error | null): boolean =>
  error instanceof CallError && (error.status === 0 || error.status === 503);
