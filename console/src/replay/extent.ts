import type { ReplayBody } from '@jade-fence/contract';

/** How much of its logs a replay is of, in words. */
export function extentOf(replay: ReplayBody | undefined): string {
  const logs = replay && replay.logs.length > 1 ? `${replay.logs.length} logs` : 'the log';
  return `${replay?.only ? 'Part' : 'All'} of ${logs}`;
}
