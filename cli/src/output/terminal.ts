import type { Writable } from 'node:stream';
import pc from 'picocolors';
import { pagerOf, showInPager } from './pager.js';
import { wrapLines } from './wrap.js';

/** Where a command writes, and what that place can show. */
export interface Terminal {
  readonly out: (text: string) => void;
  readonly err: (text: string) => void;
  /**
   * Writes an answer: in a pager, where a person reads it and it is longer than the screen. Prose is broken at blanks; a
   * document is not, so that it is copied as it is.
   */
  readonly page: (text: string, isDocument?: boolean) => void;
  /** Whether progress may be drawn: only where a person watches. */
  readonly progress: Writable | undefined;
  readonly columns: number;
  readonly paint: Paint;
  /** For what goes to `err`. */
  readonly paintErr: Paint;
}

export type Paint = ReturnType<typeof pc.createColors>;

interface Screen extends Writable {
  readonly isTTY?: boolean;
  readonly columns?: number;
  readonly rows?: number;
}

interface Streams {
  readonly stdout: Screen;
  readonly stderr: Screen;
}

const COLUMNS_IN_A_PIPE = 160;

/**
 * Colours are used where the stream that they go to is a terminal: never with NO_COLOR, always with FORCE_COLOR (but
 * `0`). On a terminal long lines are broken at blanks.
 */
export function createTerminal({ stdout, stderr }: Streams, env: NodeJS.ProcessEnv): Terminal {
  const pager = stdout.isTTY ? pagerOf(env) : undefined;
  return {
    out: (text) => write(stdout, fit(text, stdout)),
    err: (text) => write(stderr, fit(text, stderr)),
    page: (text, isDocument = false) => {
      const fitting = isDocument ? text : fit(text, stdout);
      const isLong = stdout.rows !== undefined && fitting.split('\n').length >= stdout.rows;
      if (pager === undefined || !isLong || !showInPager(pager, fitting, env)) write(stdout, fitting);
    },
    progress: stderr.isTTY ? stderr : undefined,
    columns: stdout.columns ?? COLUMNS_IN_A_PIPE,
    paint: pc.createColors(isColoured(stdout, env)),
    paintErr: pc.createColors(isColoured(stderr, env)),
  };
}

function isColoured({ isTTY }: Screen, { NO_COLOR, FORCE_COLOR, TERM }: NodeJS.ProcessEnv): boolean {
  if (NO_COLOR) return false;
  if (FORCE_COLOR !== undefined && FORCE_COLOR !== '') return FORCE_COLOR !== '0' && FORCE_COLOR !== 'false';
  return isTTY === true && TERM !== 'dumb';
}

const write = (stream: Screen, text: string): void => void stream.write(text.endsWith('\n') ? text : `${text}\n`);

const fit = (text: string, { isTTY, columns }: Screen): string =>
  isTTY && columns !== undefined ? wrapLines(text, columns) : text;
