import type { ChecksBody } from '@jade-fence/contract';
import { failingCells, failingChange } from '@jade-fence/core/checking';
import { useEffect, useRef, useState } from 'react';

/** What a watch saw at one time. */
export interface Seen {
  readonly at: string;
  /** One answer, by its check, probe and destination. */
  readonly name: string;
  readonly what: 'failed' | 'mended';
}

const MOST_KEPT = 200;

/**
 * Keeps what begins to fail, and what holds again, between the answers of checks that are fetched again and again; the
 * newest last. Begins anew when it is switched on.
 */
export function useWatch(checks: ChecksBody | undefined, fetchedAt: number, isOn: boolean): readonly Seen[] {
  const [seen, setSeen] = useState<readonly Seen[]>([]);
  const failing = useRef<readonly string[]>([]);
  useEffect(() => {
    if (isOn) return;
    failing.current = [];
    setSeen([]);
  }, [isOn]);
  useEffect(() => {
    if (!isOn || !checks || fetchedAt === 0) return;
    const now = [...failingCells(checks.checks).keys()];
    const { began, mended } = failingChange(failing.current, now);
    failing.current = now;
    const at = new Date(fetchedAt).toISOString();
    const fresh = [
      ...began.map((name): Seen => ({ at, name, what: 'failed' })),
      ...mended.map((name): Seen => ({ at, name, what: 'mended' })),
    ];
    if (fresh.length > 0) setSeen((before) => [...before, ...fresh].slice(-MOST_KEPT));
  }, [isOn, checks, fetchedAt]);
  return seen;
}
