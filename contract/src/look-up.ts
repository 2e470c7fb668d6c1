import type { EffectivePolicy, LookedUp } from '@jade-fence/core';

/** What is known of a value, and of which country data. */
export type LookUpBody = LookedUp & {
  readonly countryData: { readonly source: string; readonly date: string } | null;
};

/** What the policies can do to one client. */
export interface EffectiveBody {
  readonly client: string | null;
  readonly probe: string | null;
  readonly country: string | null;
  readonly policies: readonly EffectivePolicy[];
}
