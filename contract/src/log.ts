import type { LogFormat } from '@jade-fence/core/log';
import type { RequestBody } from './request.js';

export interface LogBody {
  readonly name: string;
  readonly format: LogFormat;
  readonly requests: number;
  readonly lines: number;
  readonly rejected: number;
  /** Whether most lines were rejected, so that the format looks wrong. */
  readonly looksWrong: boolean;
  readonly bytes: number;
  /** Names of JSON fields that requests do not have, with how often they came. */
  readonly ignoredFields: Readonly<Record<string, number>>;
  /** Values that could not be read, so that their fields are unseen: how many, by field and reason. */
  readonly unreadable: readonly UnreadableBody[];
  /** What of its requests was left out when they were stored, so that rules are blind there. */
  /** The files of the archive that it came in which could not be read to their ends, and why. */
  readonly damagedFiles: readonly { readonly file: string; readonly reason: string }[];
  readonly redacted: readonly string[];
  readonly firstTime: string | null;
  readonly lastTime: string | null;
  readonly importedAt: string;
  /** Other logs with the same content; only for a single log. */
  readonly sameAs?: readonly string[];
}

export interface UnreadableBody {
  /** In our short names; `header.NAME` for a header. */
  readonly field: string;
  /** The code of the reason, such as `bad-host`. */
  readonly reason: string;
  readonly count: number;
}

export interface RejectedPage {
  readonly rejected: readonly {
    readonly line: number;
    readonly code: string;
    readonly reason: string;
    readonly text: string;
  }[];
  readonly next: number | null;
}

/** How the parts of logs are taken for fields, kept by name. */
export interface MappingBody {
  readonly name: string;
  /** The column, or the place in JSON, that each field is in. */
  readonly columns: Readonly<Record<string, string>>;
  readonly zone: string | null;
  /** The shape of lines of text; null where it is not for text. */
  readonly pattern: string | null;
}

export interface LogsPage {
  readonly logs: readonly LogBody[];
  readonly next: string | null;
}

export interface MappingsPage {
  readonly mappings: readonly MappingBody[];
  readonly next: string | null;
}

/** A mapping to be saved; it may include `name`, as a saved one does. */
export interface MappingOrder {
  readonly columns: Readonly<Record<string, string>>;
  readonly zone?: string | null;
  readonly pattern?: string | null;
}

/** The first lines of a log, and how to read them. */
export interface MappingPreviewOrder extends Partial<MappingOrder> {
  /** At most 32,768 characters. */
  readonly text: string;
  readonly format?: LogFormat;
  /** A saved mapping; what is given beside it comes before what that says. */
  readonly mapping?: string;
}

/** What the first lines of a log are read as. */
export interface MappingPreviewBody {
  readonly format: LogFormat;
  readonly lines: readonly {
    readonly line: number;
    /** Null where the line cannot be read. */
    readonly request: RequestBody | null;
    /** Why it, or some of its fields, cannot be read. */
    readonly reasons: readonly string[];
  }[];
  /** Names in the lines that no field of requests has. */
  readonly ignored: readonly string[];
  /** Fields whose place none of the lines has. */
  readonly missing: readonly string[];
}
