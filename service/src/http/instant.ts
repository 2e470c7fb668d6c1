import { parseTime } from '@jade-fence/core/text';
import { refusal } from '../fault/refusal.js';

const DAY = /^\d{4}-\d{2}-\d{2}$/;

/** The instant of an input, or now. A day means its first instant in UTC. */
export function instantOf(at: string | undefined): Date {
  if (at === undefined) return new Date();
  const time = parseTime(DAY.test(at) ? `${at}T00:00:00Z` : at);
  if (time !== undefined) return new Date(time);
  throw refusal('bad-time', { at });
}
