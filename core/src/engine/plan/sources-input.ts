import type { PathSettings } from '../../url/index.js';
import type { PreparedRules } from '../prepared.js';
import type { ClauseTest } from './clauses.js';
import type { SharedPartition } from './partition/shared.js';

/** The input of the sources of a policy. */
export interface SourcesInput {
  readonly tests: ReadonlyMap<string, readonly ClauseTest[]>;
  readonly clauses: number;
  readonly prepared: PreparedRules;
  readonly shared: SharedPartition;
  /** How the policy reads paths. */
  readonly paths: PathSettings;
  /** Whether it takes destinations from the resolutions of hosts. */
  readonly resolve: boolean;
}
