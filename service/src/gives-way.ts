import { setPriority } from 'node:os';

/** Steps of niceness, of which there are 19. */
const NICER = 10;

/**
 * Has this thread give way to live decisions wherever there are fewer processors than work, and with it all threads and
 * processes that it starts from now on. Where the system knows no priorities of threads, the whole process gives way.
 */
export function giveWayToDecisions(): void {
  try {
    setPriority(NICER);
  } catch {
    // A system that does not allow it decides by itself who goes first.
  }
}
