import { Refusal, refusal } from '../fault/refusal.js';
import { refusalOf } from '../job/refusal-of.js';

/** The refusal for anything thrown while a call is read and answered. */
export function refusalOfCall(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  if (error instanceof URIError) return refusal('bad-path');
  const { status, type } = (error ?? {}) as { status?: number; type?: string };
  // What Express says of a body that it cannot take.
  switch (type) {
    case 'entity.parse.failed':
      return refusal('not-json');
    case 'entity.too.large':
      return refusal('body-too-large');
    case 'request.aborted':
      return refusal('aborted/upload');
    case undefined:
      return refusalOf(error);
    default:
      if (status === undefined || status >= 500) return refusalOf(error);
      return refusal(status === 415 ? 'unsupported-body' : 'bad-request');
  }
}
