import type { LogFormat } from '@jade-fence/core';

/** What a log turned out to be. */
export interface LogFacts {
  readonly format: LogFormat;
  readonly lines: number;
  readonly binary: boolean;
}
