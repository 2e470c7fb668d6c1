import type { Reason } from '@jade-fence/contract';
import { type Refusal, refusalFacts } from '../fault/refusal.js';

/** The HTTP status of each reason. */
const STATUSES: Readonly<Record<Reason, number>> = {
  malformed: 400,
  'not-signed-in': 401,
  forbidden: 403,
  missing: 404,
  'method-unknown': 405,
  'too-slow': 408,
  conflict: 409,
  stale: 412,
  'too-large': 413,
  unsupported: 415,
  invalid: 422,
  'state-needed': 428,
  'too-often': 429,
  broken: 500,
  away: 503,
  full: 507,
};

const TITLES: Readonly<Record<Reason, string>> = {
  malformed: 'Bad request',
  'not-signed-in': 'Sign-in required',
  forbidden: 'Forbidden',
  missing: 'Not found',
  'method-unknown': 'Method not allowed',
  'too-slow': 'Internal error',
  conflict: 'Conflict',
  stale: 'Changed meanwhile',
  'too-large': 'Too large',
  unsupported: 'Unsupported media type',
  invalid: 'Not valid',
  'state-needed': 'State needed',
  'too-often': 'Too many tries',
  broken: 'Internal error',
  away: 'Not ready',
  full: 'Internal error',
};

/** The status of HTTP that a refusal has by its reason. */
export const statusOf = ({ reason }: Pick<Refusal, 'reason'>): number => STATUSES[reason];

/** A refusal as problem details (RFC 9457). */
export function problemBody(refusal: Refusal): Record<string, unknown> {
  const { reason, ...facts } = refusalFacts(refusal);
  return {
    type: `urn:jade-fence:problem:${refusal.code}`,
    title: TITLES[reason],
    status: STATUSES[reason],
    ...facts,
  };
}
