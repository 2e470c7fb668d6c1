import type { ResolveCountsBody } from '@jade-fence/contract';
import type { RefusalFacts } from '../fault/refusal.js';
import { Job } from './job.js';

/** The hosts of a log that are looked up, or were. */
export class Resolve extends Job {
  static override tableName = 'resolves';
  static override jsonAttributes = ['hosts', 'counts', 'examples', 'failure'];
  /** The log; null: `hosts` are looked up. */
  logId!: number | null;
  logName!: string | null;
  hosts!: string[] | null;
  /** Whether servers are asked, or the log itself shows the addresses. */
  by!: 'dns' | 'log';
  /** Who ordered it. */
  actor!: string;
  /** Hosts, or requests of the log where that shows the addresses; null before it is known. */
  total!: number | null;
  counts!: ResolveCountsBody;
  /** Some of the hosts that failed or lead to private networks, each with why. */
  examples!: readonly { readonly host: string; readonly why: string }[];
  /** What the answers were loaded as; null where there were none. */
  loadId!: number | null;
  failure!: RefusalFacts | null;
}
