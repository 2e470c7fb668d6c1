import type { Limit } from '../limit/index.js';
import type { Rule } from '../policy/index.js';
import { type Truth, truthOf } from './semantics/truth.js';
import type { Subject } from './subject.js';

/** The memory of the traffic that limits count. */
export interface Limits {
  /** Counts the request under its key, and returns whether the key is over; unseen when the key or the amount is. */
  over(rule: Rule, limit: Limit, subject: Subject): Truth;
}

/** One request by itself is never over a limit. */
export const NO_TRAFFIC: Limits = { over: () => truthOf(false) };
