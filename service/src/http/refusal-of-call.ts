import { Refusal } from '../fault/refusal.js';
import { refusalOf } from '../job/refusal-of.js';

/** The refusal for anything thrown while a call is read and answered. */
export function refusalOfCall(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  if (error instanceof URIError) return new Refusal('bad-path', 'The path is not well encoded.');
  const { status, type } = (error ?? {}) as { status?: number; type?: string };
  // What Express says of a body that it cannot take.
  switch (type) {
    case 'entity.parse.failed':
      return new Refusal('not-json', 'The body is not JSON.');
    case 'entity.too.large':
      return new Refusal('body-too-large', 'The body is larger than this call takes.');
    case 'request.aborted':
      return new Refusal('aborted', 'The upload ended before its time; nothing was stored.');
    case undefined:
      return refusalOf(error);
    default:
      if (status === undefined || status >= 500) return refusalOf(error);
      return new Refusal(status === 415 ? 'unsupported-body' : 'bad-request', 'The request cannot be read.');
  }
}
