import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { createInterface } from 'node:readline';

export const CLIENT = 'cli/bin/jade-fence.js';
const LOOK_EVERY_MS = 500;

/**
 * Starts the service and waits until it prints its addresses and the file of its key. When it does not start, and has
 * said why, only `exitCode` is returned. In a process group of its own, so that Ctrl-C reaches it through us alone. It
 * ends with us, however we end: its standard input is ours to close; and we end with who started us.
 */
export async function startService(args) {
  const given = [CLIENT, 'service', 'run', '--log-level', 'warn', '--stop-with-input', ...args];
  const child = spawn(process.execPath, given, { stdio: ['pipe', 'pipe', 'inherit'], detached: true });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill('SIGTERM'));
  stopWithStarter(() => child.kill('SIGTERM'));
  let url;
  let gateUrl;
  for await (const line of createInterface({ input: child.stdout })) {
    url ??= /^Console and API: (\S+)/.exec(line)?.[1];
    gateUrl ??= /^Decisions for gateways: (\S+)/.exec(line)?.[1];
    const keyFile = /ccess key in (.+)$/.exec(line)?.[1];
    if (keyFile !== undefined) return { process: child, url, gateUrl, keyFile };
  }
  return { exitCode: child.exitCode ?? (await once(child, 'exit'))[0] ?? 1 };
}

/** Stops when npm, or the shell that started us with it, is gone: a process that is killed sends no signal. */
function stopWithStarter(stop) {
  const starter = process.ppid;
  const before = parentOf(starter);
  const timer = setInterval(() => {
    if (process.ppid === starter && parentOf(starter) === before) return;
    clearInterval(timer);
    stop();
  }, LOOK_EVERY_MS);
  timer.unref();
}

function parentOf(pid) {
  try {
    return readFileSync(`/proc/${pid}/stat`, 'utf8')
      .replace(/^.*\) /s, '')
      .split(' ')[1];
  } catch {
    return undefined;
  }
}
