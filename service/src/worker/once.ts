import type { CallName, Calls } from './calls.js';
import { processLane } from './lane.js';
import { MAIN, Thread } from './thread.js';

/**
 * Has a process of its own do something large that is rarely done: the service goes on meanwhile, and all the memory that
 * it took is given back with the process, which that of a thread is not.
 */
export async function once<K extends CallName>(name: K, args: Parameters<Calls[K]>): Promise<ReturnType<Calls[K]>> {
  const process = new Thread(processLane(MAIN));
  try {
    return await process.call(name, args);
  } finally {
    await process.stop();
  }
}
