import type { LogFormat } from '@jade-fence/core/log';

/** What a log turned out to be. */
export interface LogFacts {
  readonly format: LogFormat;
  readonly lines: number;
  readonly binary: boolean;
}
