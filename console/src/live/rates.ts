import type { LiveBody } from '@jade-fence/contract';

/** How many decisions there were at one time since the service started. */
export interface Sample {
  /** Milliseconds. */
  readonly at: number;
  readonly allowed: number;
  readonly stopped: number;
}

/** Requests a second between two looks. */
export interface Rate {
  readonly at: number;
  readonly allowed: number;
  readonly stopped: number;
}

/** Rules that only observe have decided nothing. */
export function sampleOf({ counts }: LiveBody, at: number): Sample {
  let [allowed, stopped] = [0, 0];
  for (const { verdict, role, count } of counts) {
    if (role !== 'decided') continue;
    if (verdict === 'allow' || verdict === 'uncovered') allowed += count;
    else stopped += count;
  }
  return { at, allowed, stopped };
}

/**
 * The rates between samples that follow each other. Where the counts have gone down, the service has started anew, and
 * nothing is known of the time between.
 */
export function ratesOf(samples: readonly Sample[]): Rate[] {
  return samples.slice(1).flatMap((sample, index): Rate[] => {
    const before = samples[index] as Sample;
    const seconds = (sample.at - before.at) / 1000;
    const [allowed, stopped] = [sample.allowed - before.allowed, sample.stopped - before.stopped];
    if (seconds <= 0 || allowed < 0 || stopped < 0) return [];
    return [{ at: sample.at, allowed: allowed / seconds, stopped: stopped / seconds }];
  });
}
