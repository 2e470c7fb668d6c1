export const JOB_STATES = ['waiting', 'running', 'done', 'failed', 'cancelled'] as const;
/** How far long work is. */
export type JobState = (typeof JOB_STATES)[number];

/** True where nothing more comes of the job. */
export const hasEnded = (state: JobState): boolean => state !== 'waiting' && state !== 'running';
