import { endingEntries } from '../list/index.js';
import type { Workspace } from '../workspace/index.js';

/** When the next entry of any list expires, in milliseconds since 1970; undefined for never. */
export function nextExpiry({ lists }: Workspace, now: number): number | undefined {
  let next = Number.POSITIVE_INFINITY;
  for (const list of lists.values())
    for (const { until = now } of endingEntries(list)) if (until > now && until < next) next = until;
  return next === Number.POSITIVE_INFINITY ? undefined : next;
}
