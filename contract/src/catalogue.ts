import type { PassedOver } from '@jade-fence/core/catalogue';
import type { ChangesBody } from './workspace.js';

/** What came of merging sources into the catalogue. */
export interface CatalogueMergedBody extends ChangesBody {
  /** How many rows were taken, or were there already. */
  readonly taken: number;
  /** The first rows that were not, since a source before says something else. */
  readonly passedOver: readonly PassedOver[];
  readonly passedOverCount: number;
}

/** Sources of a catalogue, the one that is to be believed first. */
export interface CatalogueMerge {
  readonly sources: readonly { readonly name: string; readonly csv: string }[];
  /** Tells what would change, and changes nothing. */
  readonly dryRun?: boolean;
}
