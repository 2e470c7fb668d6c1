import { setTimeout as sleep } from 'node:timers/promises';
import { isAway } from '../client/until-ready.js';
import type { Context } from '../context.js';
import { safe } from '../output/safe.js';

interface Repeated<T> {
  readonly ask: () => Promise<T>;
  readonly take: (answer: T) => void;
  readonly pauseMs: number;
}

/**
 * Asks the service again and again, and hands over each answer, until interrupted. A service that goes away is waited for,
 * which is said once. All else that fails ends it, and so does a service that is away from the beginning.
 */
export async function repeat<T>({ terminal }: Context, { ask, take, pauseMs }: Repeated<T>): Promise<never> {
  let [hasAnswered, isThere] = [false, true];
  for (;;) {
    try {
      const answer = await ask();
      [hasAnswered, isThere] = [true, true];
      take(answer);
    } catch (error) {
      if (!hasAnswered || !isAway(error)) throw error;
      if (isThere) terminal.err(`${new Date().toISOString()}  ${safe(error.body.detail)} Waiting for it …`);
      isThere = false;
    }
    await sleep(pauseMs);
  }
}
