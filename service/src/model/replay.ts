import type { Purpose } from '@jade-fence/contract';
import type { Redaction } from '@jade-fence/core/redact';
import type { LogFilter, Slot, VerdictSummary } from '@jade-fence/core/replay';
import type { DocumentKind } from '@jade-fence/core/text';

import { BaseModel } from './base.js';
import { Job } from './job.js';

/** A document that is judged by and stored with a replay only. */
export interface GivenDocument {
  readonly kind: DocumentKind;
  readonly name: string;
  readonly file: string;
  readonly text: string;
}

/** A run of the workspace over a log. */
export class Replay extends Job {
  static override tableName = 'replays';
  static override jsonAttributes = ['versionIds', 'slots', 'logIds', 'only', 'documents', 'redactions'];
  /** The first of its logs, and all of them, in their order. */
  logId!: number;
  logIds!: number[];
  /** Which requests of the logs it is of; null: all. */
  only!: LogFilter | null;
  /** The one policy that judged every request, or null where each was judged by the one that covers it. */
  policy!: string | null;
  /** The revision that it ran; null: the draft as it was. */
  revision!: number | null;
  purpose!: Purpose;
  /** Null for replays of before this was kept. */
  orderedBy!: string | null;
  /** The requests of its logs. */
  total!: number;
  failure!: string | null;
  /** The versions of the objects that it ran with. */
  versionIds!: number[];
  countryDataId!: number | null;
  /** The newest load of resolutions that counted; null: there was none. */
  resolutionsId!: number | null;
  /** What it judged by in place of the workspace's own documents of the same names; null: by those alone. */
  documents!: GivenDocument[] | null;
  /** The instant at which the expiry of list entries was judged. */
  judgedAt!: Date;
  slots!: Slot[];
  /** What is redacted in the requests that each policy judged. */
  redactions!: Readonly<Record<string, Redaction>>;
  report!: string | null;
}

/** The verdicts of a chunk of a replay. */
export class ReplayChunk extends BaseModel {
  static override tableName = 'replay_chunks';
  static override jsonAttributes = ['summary'];
  static override idColumn = ['replayId', 'number'];
  replayId!: number;
  number!: number;
  /** Which chunk of which log it judged, and how many requests of it. */
  logId!: number;
  logChunk!: number;
  rows!: number;
  /** A summary of the outcomes, and Bloom filters of the clients; null for chunks from before this was kept. */
  summary!: VerdictSummary | null;
  four!: Buffer | null;
  six!: Buffer | null;
  /** A column table, deflated. */
  data!: Buffer;
}
