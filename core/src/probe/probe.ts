import type { Address } from '../address/index.js';

/** A named, made-up client that is kept to test with. What it does not say is unseen. */
export interface Probe {
  readonly type: 'probe';
  readonly name: string;
  readonly file: string;
  readonly note: string | undefined;
  /** The address that it comes from. */
  readonly client: Address | undefined;
  /** The country to take it for, whatever the country data says of its address. */
  readonly country: string | undefined;
  /** In lower case; empty: anonymous. */
  readonly user: string | undefined;
  readonly groups: readonly string[] | undefined;
  /** Empty: it sends none. */
  readonly agent: string | undefined;
  readonly headers: ReadonlyMap<string, readonly string[]> | undefined;
}
