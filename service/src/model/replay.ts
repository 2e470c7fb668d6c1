import type { Slot } from '@jade-fence/core';
import { BaseModel } from './base.js';

export const REPLAY_STATES = ['running', 'done', 'failed', 'cancelled'] as const;
export type ReplayState = (typeof REPLAY_STATES)[number];

/** A run of the workspace over a log. */
export class Replay extends BaseModel {
  static override tableName = 'replays';
  static override jsonAttributes = ['versionIds', 'slots'];
  id!: number;
  logId!: number;
  /** The one policy that judged every request, or null where each was judged by the one that covers it. */
  policy!: string | null;
  state!: ReplayState;
  done!: number;
  total!: number;
  failure!: string | null;
  /** The versions of the objects that it ran with. */
  versionIds!: number[];
  countryDataId!: number | null;
  /** The instant at which the expiry of list entries was judged. */
  judgedAt!: Date;
  slots!: Slot[];
  report!: string | null;
  startedAt!: Date;
  touchedAt!: Date;
  finishedAt!: Date | null;
}

export class ReplayChunk extends BaseModel {
  static override tableName = 'replay_chunks';
  static override idColumn = ['replayId', 'number'];
  replayId!: number;
  number!: number;
  /** A column table, deflated. */
  data!: Buffer;
}
