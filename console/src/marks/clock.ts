import { useSyncExternalStore } from 'react';
import { remembered } from './remembered.js';

const STORED = 'jade-fence-zone';
const listeners = new Set<() => void>();
let format = formatOf(storedZone());

/** 2026-11-09 07:31:05, in the time zone that was chosen here. */
export const clock = (time: string): string => format.format(new Date(time));

/** The time zone that times are shown in: UTC, unless another was chosen in this browser. */
export const timeZone = (): string => format.resolvedOptions().timeZone;

/** The time zone that was chosen, and how to choose another; false where it is none. */
export function useTimeZone(): [zone: string, choose: (zone: string) => boolean] {
  const zone = useSyncExternalStore((changed) => {
    listeners.add(changed);
    return () => listeners.delete(changed);
  }, timeZone);
  return [zone, chooseTimeZone];
}

/** Shows times in a zone of the IANA database from now on; false, and nothing changes, where there is none of that name. */
export function chooseTimeZone(zone: string): boolean {
  try {
    format = formatOf(zone);
  } catch {
    return false;
  }
  remembered.setItem(STORED, zone);
  for (const changed of listeners) changed();
  return true;
}

function formatOf(zone: string): Intl.DateTimeFormat {
  // Swedish writes dates as ISO 8601 does.
  return new Intl.DateTimeFormat('sv-SE', {
    timeZone: zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
  });
}

function storedZone(): string {
  const stored = remembered.getItem(STORED) ?? 'UTC';
  try {
    formatOf(stored);
    return stored;
  } catch {
    return 'UTC';
  }
}
