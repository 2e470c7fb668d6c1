import type { AddressRange } from '../address/index.js';
import type { Site } from '../issue/index.js';

/** The administrator's own word on where networks are, which comes before any country data. */
export interface Corrections {
  readonly type: 'corrections';
  readonly name: string;
  readonly file: string;
  readonly note: string | undefined;
  readonly networks: readonly CorrectedNetwork[];
}

export interface CorrectedNetwork {
  readonly range: AddressRange;
  /** A code, `private` or `unknown`. */
  readonly country: string;
  readonly at: Site;
}
