import type { LogFormat, Mapping } from '@jade-fence/core/log';

/** How a log is to be imported. */
export interface ImportOptions {
  readonly name: string;
  /** Undefined: found from what the first lines look like. */
  readonly format: LogFormat | undefined;
  /** How the columns of CSV are taken; undefined: by their names. */
  readonly mapping?: Mapping | undefined;
  /** The requested redaction of what is stored. */
  readonly redact?: readonly string[] | undefined;
  /** The most bytes to take, as they are sent and, where they are compressed, as they are. */
  readonly maxBytes: number;
}
