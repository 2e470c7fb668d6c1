import type { JobState } from '@jade-fence/contract';
import { BaseModel } from './base.js';

/** What is done as a job. */
export const JOB_KINDS = ['replay', 'import', 'resolve'] as const;
export type JobKind = (typeof JOB_KINDS)[number];

/** Long work that any service on the database takes, and takes up where another left it. */
export abstract class Job extends BaseModel {
  id!: number;
  state!: JobState;
  /** How far it is; of what, says what it is. */
  done!: number;
  /** The job of the queue that runs it, how often it was begun, and the session of the service that ran it last. */
  jobId!: string | null;
  attempt!: number;
  /** How often it was begun and not given back in good order. */
  tries!: number;
  /** Until when its service is taken to work on it. */
  leaseUntil!: Date | null;
  runBy!: string | null;
  begunAt!: Date | null;
  startedAt!: Date;
  touchedAt!: Date;
  finishedAt!: Date | null;
}
