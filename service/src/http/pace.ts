import type { Job } from '../model/job.js';

/** How fast something goes, and for how long still at that pace. */
export interface Pace {
  /** What is done a second, and the seconds left at that rate; null where nothing is under way. */
  readonly rate: number | null;
  readonly secondsLeft: number | null;
}

/** The pace of a job, of which there is so much in total; null where that is not known yet. */
export function pace({ state, done, begunAt, touchedAt }: Job, total: number | null): Pace {
  const seconds = begunAt ? (touchedAt.getTime() - begunAt.getTime()) / 1000 : 0;
  if (state !== 'running' || done === 0 || seconds <= 0) return { rate: null, secondsLeft: null };
  const rate = done / seconds;
  return { rate: Math.round(rate), secondsLeft: total === null ? null : Math.ceil((total - done) / rate) };
}
