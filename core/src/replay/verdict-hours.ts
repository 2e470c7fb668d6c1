import { VERDICTS, type Verdict } from '../policy/index.js';
import type { Breakdown, Shared } from './report.js';

const HOUR_MS = 3_600_000;
/** More hours than this, which are three months, are not kept; requests of others are counted together. */
const MOST_HOURS = 2400;

type Counts = { -readonly [K in keyof Shared]: number };

/** Counts requests by the hour that they came in (UTC), and there by their verdicts. */
export class VerdictHours {
  readonly #hours = new Map<number, Counts>();
  #beyond = 0;

  /** `time` is RFC 3339; a request without one is in no hour. */
  add(time: unknown, verdict: Verdict | 'uncovered'): void {
    const at = typeof time === 'string' ? Date.parse(time) : Number.NaN;
    if (Number.isNaN(at)) return;
    const hour = Math.floor(at / HOUR_MS) * HOUR_MS;
    const counts = this.#hours.get(hour) ?? this.#begin(hour);
    if (counts === undefined) {
      this.#beyond++;
      return;
    }
    counts.requests++;
    counts[verdict]++;
  }

  #begin(hour: number): Counts | undefined {
    if (this.#hours.size >= MOST_HOURS) return undefined;
    const none = Object.fromEntries(['requests', 'uncovered', ...VERDICTS].map((each) => [each, 0]));
    this.#hours.set(hour, none as Counts);
    return none as Counts;
  }

  /** The hours in their order, each as the instant that it begins at. */
  breakdown(): Breakdown {
    const hours = [...this.#hours].sort(([a], [b]) => a - b);
    const rows = hours.map(([hour, counts]) => ({ key: new Date(hour).toISOString(), ...counts }));
    return { rows, more: 0, beyond: this.#beyond };
  }
}
