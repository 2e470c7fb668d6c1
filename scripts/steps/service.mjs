import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createInterface } from 'node:readline';

export const CLIENT = 'cli/bin/jade-fence.js';

/**
 * Starts the service and waits until it tells its address and the file of its key. Where it does not start, having told
 * why, only `exitCode` is answered. In a process group of its own, so that Ctrl-C reaches it through us alone.
 */
export async function startService(args) {
  const given = [CLIENT, 'serve', '--log-level', 'warn', ...args];
  const child = spawn(process.execPath, given, { stdio: ['ignore', 'pipe', 'inherit'], detached: true });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill('SIGTERM'));
  let url;
  for await (const line of createInterface({ input: child.stdout })) {
    url ??= /^Console and API: (\S+)/.exec(line)?.[1];
    const keyFile = /ccess key in (.+)$/.exec(line)?.[1];
    if (keyFile !== undefined) return { process: child, url, keyFile };
  }
  return { exitCode: child.exitCode ?? (await once(child, 'exit'))[0] ?? 1 };
}
