import { DIMENSIONS, type Report } from '@jade-fence/core/replay';
import type { Replay } from '../model/replay.js';

/** The report of a replay; what an earlier version did not count has no rows. */
export function storedReport({ report }: Replay): Report {
  const stored = JSON.parse(report ?? '{}') as Report;
  const none = { rows: [], more: 0, beyond: 0 };
  const all = Object.fromEntries(DIMENSIONS.map((dimension) => [dimension, stored.breakdowns[dimension] ?? none]));
  return { ...stored, breakdowns: all as unknown as Report['breakdowns'] };
}
