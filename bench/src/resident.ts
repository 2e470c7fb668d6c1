import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

/** Bytes of the service and of the processes that it started, its database aside. */
export function residentOf(pid: number): number {
  const all = execFileSync('ps', ['-A', '-o', 'pid=,ppid=,args='], { encoding: 'utf8' }).trim().split('\n');
  const own = all
    .map((line) => line.trim().split(/\s+/))
    .filter(
      ([each, parent, ...args]) => Number(each) === pid || (Number(parent) === pid && /node/.test(args[0] ?? '')),
    );
  return own.reduce((sum, [each]) => sum + residentOfOne(Number(each)), 0);
}

function residentOfOne(pid: number): number {
  return 1024 * Number(/^VmRSS:\s+(\d+) kB/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0);
}
