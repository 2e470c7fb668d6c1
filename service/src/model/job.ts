import { BaseModel } from './base.js';

/** What is done as a job. */
export type JobKind = 'replay' | 'import';

export type JobState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';

export const hasEnded = (state: JobState): boolean => state !== 'waiting' && state !== 'running';

/** Long work that any service on the database takes, and takes up where another left it. */
export abstract class Job extends BaseModel {
  id!: number;
  state!: JobState;
  /** How far it is; of what, says what it is. */
  done!: number;
  /** The job of the queue that runs it, how often it was begun, and the session of the service that ran it last. */
  jobId!: string | null;
  attempt!: number;
  runBy!: string | null;
  begunAt!: Date | null;
  startedAt!: Date;
  touchedAt!: Date;
  finishedAt!: Date | null;
}
