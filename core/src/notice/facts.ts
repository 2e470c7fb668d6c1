import type { NoticeFacts } from './render.js';

/** A request that was stopped, as far as it is known. */
export interface StoppedRequest {
  readonly host: string | undefined;
  readonly path: string | undefined;
  /** The client as the policy resolves it, and its country. */
  readonly client: string | undefined;
  readonly country: string | undefined;
  readonly policy: string | undefined;
  /** Undefined: the policy's default stopped it. */
  readonly rule: string | undefined;
  /** Milliseconds since 1970. */
  readonly now: number;
  /** The number that the decision is recorded under. */
  readonly reference: string;
}

/** The facts of a request for a notice; the same wherever it is shown. Unknown facts are left out. */
export function noticeFacts({ now, rule, reference, ...known }: StoppedRequest): NoticeFacts {
  const shown = Object.entries(known).filter(([, value]) => value !== undefined);
  return {
    ...Object.fromEntries(shown),
    rule: rule ?? 'default',
    time: new Date(now).toISOString(),
    request: reference,
  };
}

/** A made-up request, for a notice that is looked at before anybody is stopped. */
export const exampleFacts = (now: number): NoticeFacts =>
  noticeFacts({
    ...{ host: 'www.lucky-petal.example', path: '/bets', client: '10.40.3.7', country: 'private' },
    ...{ policy: 'visitor-web', rule: 'no-wagering', now, reference: EXAMPLE_REFERENCE },
  });

/** The reference when no decision is made. */
export const EXAMPLE_REFERENCE = 'EXAMPLE1';
