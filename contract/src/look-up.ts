import type { Remedy } from '@jade-fence/core/destination';
import type { EffectivePolicy } from '@jade-fence/core/effective';
import type { LookedUp } from '@jade-fence/core/lookup';
import type { StateQuery } from './state.js';

/** What is known of a value, and of which country data. */
export type LookUpBody = LookedUp & {
  readonly countryData: { readonly source: string; readonly date: string } | null;
  /** What could be done about a host, the narrowest first. */
  readonly remedies: readonly RemedyBody[];
};

/** A condition that stops a host, and what else of a log it would stop. */
export interface RemedyBody extends Remedy {
  /** How many requests of the log match it, and how many of these go to other hosts; null where no log was named. */
  readonly requests: number | null;
  readonly others: number | null;
}

/** What the policies can do to one client. */
export interface EffectiveBody {
  readonly client: string | null;
  readonly probe: string | null;
  readonly country: string | null;
  readonly policies: readonly EffectivePolicy[];
}

export interface LookUpQuery extends StateQuery {
  readonly of: string;
  /** The log in which to count what remedies would stop. */
  readonly log?: string;
}

/** The client, for what the policies can do to it: a probe, or an address. */
export interface EffectiveQuery extends StateQuery {
  readonly probe?: string;
  readonly client?: string;
  /** Only this policy. */
  readonly policy?: string;
}
