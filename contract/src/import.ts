import type { LogFormat } from '@jade-fence/core/log';
import type { JobState } from './job.js';
import type { RedactQuery } from './replay.js';

/** A log that is being brought in, or was. */
export interface ImportBody {
  readonly id: number;
  /** What the log is called. */
  readonly log: string;
  readonly state: JobState;
  /** Who sent it. */
  readonly actor: string;
  /** The bytes that are here, and whether these are all; before that it cannot be done. */
  readonly received: number;
  readonly held: boolean;
  /** The bytes that are read, and how many there will be; null where the sender has not said. */
  readonly done: number;
  readonly total: number | null;
  /** Bytes a second that are read, and seconds left at that rate; null where nothing is under way. */
  readonly rate: number | null;
  readonly secondsLeft: number | null;
  /** Why it came to no log. */
  readonly failure: ImportFailureBody | null;
  readonly startedAt: string;
  readonly finishedAt: string | null;
}

export interface ImportFailureBody {
  readonly code: string;
  readonly detail: string;
  readonly remedy: string | null;
  readonly issues: readonly { readonly path: string; readonly what: string }[];
}

/** How a log is to be read. */
export interface ImportQuery extends RedactQuery {
  readonly name: string;
  readonly format?: LogFormat;
  /** A saved mapping; `column`, `zone` and `pattern` come before what that says. */
  readonly mapping?: string;
  /** Where fields are: in columns of a table or members of JSON, as `FIELD=PLACE`. */
  readonly column?: readonly string[];
  readonly zone?: string;
  /** The shape of lines of text, with fields in braces. */
  readonly pattern?: string;
}

/** Imports, the newest first. */
export interface ImportsPage {
  readonly imports: readonly ImportBody[];
  readonly next: number | null;
}
