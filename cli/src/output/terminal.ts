import type { Writable } from 'node:stream';
import pc from 'picocolors';

/** Where a command writes, and what that place can show. */
export interface Terminal {
  readonly out: (text: string) => void;
  readonly err: (text: string) => void;
  /** Whether progress may be drawn: only where a person watches. */
  readonly progress: Writable | undefined;
  readonly columns: number;
  readonly paint: Paint;
  /** For what goes to `err`. */
  readonly paintErr: Paint;
}

export type Paint = ReturnType<typeof pc.createColors>;

interface Streams {
  readonly stdout: Writable & { readonly isTTY?: boolean; readonly columns?: number };
  readonly stderr: Writable & { readonly isTTY?: boolean };
}

const COLUMNS_IN_A_PIPE = 160;

/** Colours are used where the stream that they go to is a terminal, and never where NO_COLOR is set. */
export function createTerminal({ stdout, stderr }: Streams, env: NodeJS.ProcessEnv): Terminal {
  const paintFor = ({ isTTY }: { readonly isTTY?: boolean }) =>
    pc.createColors(isTTY === true && !env.NO_COLOR && env.TERM !== 'dumb');
  return {
    out: (text) => void stdout.write(text.endsWith('\n') ? text : `${text}\n`),
    err: (text) => void stderr.write(text.endsWith('\n') ? text : `${text}\n`),
    progress: stderr.isTTY ? stderr : undefined,
    columns: stdout.columns ?? COLUMNS_IN_A_PIPE,
    paint: paintFor(stdout),
    paintErr: paintFor(stderr),
  };
}
