import type { AnswerSourceKind, ResolutionFormat } from '@jade-fence/core/resolution';
import type { JobState } from './job.js';

/** Which addresses hosts have, as far as that is known now. */
export interface ResolutionsBody {
  /** The number of the present state; null before the first answers. */
  readonly state: number | null;
  readonly hosts: number;
  /** When answers came last; RFC 3339. */
  readonly changedAt: string | null;
  /** The servers that hosts are looked up by. */
  readonly servers: readonly string[];
}

/** A file of resolutions, or what servers or a log answered for many hosts at once. */
export interface ResolutionLoadBody {
  /** Also the number of the state that it made. */
  readonly id: number;
  readonly kind: AnswerSourceKind;
  readonly name: string;
  readonly by: string | null;
  /** Whether what was known before does not count any more. */
  readonly anew: boolean;
  readonly hosts: number;
  readonly faultCount: number;
  readonly faults: readonly { readonly line: number; readonly code: string; readonly reason: string }[];
  readonly loadedAt: string;
}

/** Loads, the newest first. */
export interface ResolutionLoadsPage {
  readonly loads: readonly ResolutionLoadBody[];
  readonly next: number | null;
}

export interface ResolutionFileQuery {
  /** Where it came from, such as the name of the file. */
  readonly source: string;
  readonly format?: ResolutionFormat;
  /** What relative names of a zone file are under. */
  readonly origin?: string;
  /** Whether what was known before does not count any more. */
  readonly anew?: boolean;
}

/** What is to be resolved: the hosts of a log, or these. */
export interface ResolveOrder {
  readonly log?: string;
  readonly hosts?: readonly string[];
  /** Whether DNS servers are asked, or the log itself shows the addresses. Default `dns`. */
  readonly by?: 'dns' | 'log';
}

/** Hosts that are looked up, or were. */
export interface ResolveBody {
  readonly id: number;
  readonly log: string | null;
  readonly by: 'dns' | 'log';
  readonly state: JobState;
  readonly actor: string;
  /** Hosts that are done, and how many there are; null before that is known. */
  readonly done: number;
  readonly total: number | null;
  /** Hosts a second, and seconds left at that rate; null where nothing is under way. */
  readonly rate: number | null;
  readonly secondsLeft: number | null;
  readonly counts: ResolveCountsBody;
  /** Some of the hosts that failed, were withheld or lead to private networks, each with why. */
  readonly examples: readonly { readonly host: string; readonly why: string }[];
  /** The load that the answers are in; null where there is none. */
  readonly load: number | null;
  readonly failure: {
    readonly code: string;
    readonly detail: string;
    readonly remedy: string | null;
  } | null;
  readonly startedAt: string;
  readonly finishedAt: string | null;
}

export interface ResolveCountsBody {
  /** Hosts with addresses, and hosts that are known to have none. */
  readonly found: number;
  readonly none: number;
  /** Hosts that no server answered for. */
  readonly failed: number;
  /** Names of private networks that were not sent to servers outside. */
  readonly withheld: number;
  /** Public names that were answered with an address of private networks. */
  readonly private: number;
  /** Hosts that were too many to be looked up at once. */
  readonly beyond: number;
}

/** Resolves, the newest first. */
export interface ResolvesPage {
  readonly resolves: readonly ResolveBody[];
  readonly next: number | null;
}
