import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { CLIENT } from './service.js';

/** What is typed at a terminal once a text is shown there. */
export interface Typed {
  readonly behind: string;
  readonly text: string;
}

interface Screen {
  readonly rows: number;
  readonly columns: number;
}

/** Runs the client at a terminal, and answers all that is shown there. */
export async function atTerminal(
  args: readonly string[],
  env: NodeJS.ProcessEnv,
  typed: readonly Typed[] = [],
  { rows, columns }: Screen = { rows: 200, columns: 200 },
): Promise<string> {
  const words = [process.execPath, CLIENT, ...args].map((word) => `'${word}'`).join(' ');
  const sized = `stty rows ${rows} cols ${columns}; exec ${words}`;
  const child = spawn('script', ['--quiet', '--return', '--command', sized, '/dev/null'], {
    env: { ...process.env, NO_COLOR: '1', ...env },
    stdio: ['pipe', 'pipe', 'inherit'],
  });
  const left = [...typed];
  let shown = '';
  child.stdout.on('data', (piece: Buffer) => {
    shown += piece.toString();
    const next = left[0];
    if (next === undefined || !shown.includes(next.behind)) return;
    left.shift();
    child.stdin.write(next.text);
  });
  await once(child, 'exit');
  return shown;
}
