import type { LogFormat, Mapping } from '@jade-fence/core/log';
import { raw } from 'objection';
import { isDatabaseLost } from '../database/faults.js';
import { noSession, notify } from '../database/session.js';
import { type Refusal, refusalFacts } from '../fault/refusal.js';
import { refusalOf } from '../job/refusal-of.js';
import { type JobParts, JobRunner } from '../job/runner.js';
import { Import, ImportPiece } from '../model/import.js';
import { RequestLog } from '../model/request-log.js';
import type { WorkerPool } from '../worker/pool.js';
import { DirectUpload } from './direct-upload.js';
import { KeptUpload } from './kept-upload.js';
import { dropPieces, pieceStore } from './pieces.js';
import { brokenOff, cancelled, nameTaken, nameUnderWay, refusalOfEnded, unreadHere } from './refusals.js';
import type { Upload } from './upload.js';
import { ImportWork } from './work.js';

const SWEEP_EVERY_MS = 2000;
const REPORT_EVERY_MS = 250;
/** This many are read while they arrive; further ones are kept, and read when they are complete and a worker is free. */
const MOST_FOLLOWED = 2;
/** An import of this service that is older, and of which nothing is being sent to it, could not be ended when that broke off. */
const BEING_BEGUN_SECONDS = 10;
/** How long an import that made no log stays listed. */
const KEPT_DAYS = 30;

export interface ImportOrder {
  /** What the log is to be called. */
  readonly name: string;
  readonly format: LogFormat | undefined;
  readonly mapping: Mapping | undefined;
  readonly redact: readonly string[];
  /** Who sends it. */
  readonly actor: string;
  /** The bytes that are announced, where that is done. */
  readonly size: number | undefined;
}

export interface ImportsParts extends JobParts {
  readonly pool: WorkerPool;
  /** The most bytes of a log, as it is sent and as it is. */
  readonly maxUpload: number;
}

/**
 * Takes logs that are sent, and imports them as jobs. What comes is kept in the database, so that any service can read
 * it when it is here; the one that it comes to reads it meanwhile, where it has a hand free.
 */
export class Imports {
  readonly #parts: ImportsParts;
  readonly #jobs: JobRunner<Import>;
  readonly #uploads = new Map<number, Upload>();
  #followed = 0;
  #sweeper: NodeJS.Timeout | undefined;

  constructor(parts: ImportsParts) {
    this.#parts = parts;
    this.#jobs = new JobRunner<Import>(parts, new ImportWork({ ...parts, uploads: this.#uploads }));
  }

  async open(): Promise<void> {
    const { knex, session } = this.#parts;
    session.on('notification', (notification) => {
      if (notification.type === 'cancel' && notification.kind === 'import')
        this.#uploads.get(notification.id)?.stop(cancelled());
    });
    // Others take the end of a session for the end of what was sent to it.
    session.on('connected', () => {
      const stillSent = Import.query(knex).whereIn('id', [...this.#uploads.keys()]);
      void stillSent.patch({ receivedBy: session.name ?? '' }).catch(() => undefined);
    });
    await this.#sweep();
    this.#sweeper = setInterval(() => void this.#sweep(), SWEEP_EVERY_MS);
    await this.#jobs.open();
  }

  stop(): Promise<void> {
    clearInterval(this.#sweeper);
    return this.#jobs.stop();
  }

  /** Asks an import to stop, wherever it is, and waits until it has. */
  async cancel(id: number): Promise<void> {
    await this.#jobs.cancel(id);
    // One that is only kept so far is not run by anybody, and still sent.
    await notify(this.#parts.knex, { type: 'cancel', kind: 'import', id });
  }

  /** Stores what is to be imported; then it can be sent. */
  async order({ name, format, mapping, redact, actor, size }: ImportOrder): Promise<Import> {
    const { knex, session } = this.#parts;
    if (await RequestLog.query(knex).findOne({ name }).select('id')) throw nameTaken(name);
    const inserted = () =>
      Import.query(knex)
        .insert({
          ...{ name, redact: [...redact], actor, state: 'waiting', receivedBy: session.name ?? '' },
          ...{ format: format ?? null, mapping: mapping ?? null, size: size ?? null },
        })
        .onConflict(raw("(name) where state in ('waiting', 'running')"))
        .ignore()
        .returning('*') as unknown as Promise<Import | undefined>;
    const first = await inserted();
    if (first?.id !== undefined) return first;
    // It may be one that its service was lost over, and that nobody has looked at since.
    await this.#endBroken();
    const second = await inserted();
    if (second?.id !== undefined) return second;
    throw nameUnderWay(name);
  }

  /**
   * Takes what is sent. Where its sender waits for the log and a hand is free, it is read as it comes and nothing else;
   * what breaks off then is to be sent again. Else it is kept, and when it is all here its import goes on by itself.
   */
  async receive(id: number, bytes: AsyncIterable<Buffer>, senderWaits: boolean): Promise<void> {
    const { knex, maxUpload } = this.#parts;
    const handFree = this.#followed < MOST_FOLLOWED;
    const sent = { bytes, maxBytes: maxUpload };
    const kept = senderWaits && handFree ? undefined : new KeptUpload(id, sent, pieceStore(knex, id));
    const upload = kept ?? new DirectUpload(id, sent);
    this.#uploads.set(id, upload);
    if (handFree) kept?.follow();
    const reading = handFree ? this.#follow(upload).finally(() => kept?.leave()) : undefined;
    try {
      if (kept) {
        await kept.keep(this.#reportReceived(id));
        await this.#holdsAll(kept);
        return kept.end();
      }
      await reading;
      upload.throwIfStopped();
    } catch (error) {
      upload.stop(refusalOf(error));
      await reading;
      await this.#endUnsent(id, error);
      throw error;
    } finally {
      this.#uploads.delete(id);
    }
  }

  /** All of an import is here. */
  async #holdsAll({ id, received, pieces }: KeptUpload): Promise<void> {
    const held = (await Import.query(this.#parts.knex)
      .where({ id })
      .whereIn('state', ['waiting', 'running'])
      .patch({ held: true, received, pieces })
      .returning('state')) as unknown as Import[];
    if (held.length === 0) throw await this.#whyEnded(id);
    // Those that are read here already need no other hand.
    if (held[0]?.state === 'waiting') await this.#jobs.enqueue(id);
  }

  /** Reads what is sent while it comes. What ends that ends the sending, where the rest would be of no use. */
  async #follow(upload: Upload): Promise<void> {
    this.#followed++;
    await this.#jobs.take(upload.id);
    this.#followed--;
    const ended = await Import.query(this.#parts.knex)
      .findById(upload.id)
      .catch(() => undefined);
    if (ended?.state === 'failed' || ended?.state === 'cancelled') upload.stop(refusalOfEnded(ended));
    else if (!upload.keeps && ended?.state !== 'done') upload.stop(unreadHere());
  }

  #reportReceived(id: number): (received: number) => Promise<void> {
    const { knex } = this.#parts;
    let shown = Date.now();
    return async (received) => {
      if (Date.now() - shown < REPORT_EVERY_MS) return;
      shown = Date.now();
      await Import.query(knex).findById(id).patch({ received });
      await notify(knex, { type: 'progress', kind: 'import', id });
    };
  }

  /** Why an import ended while it was sent. */
  async #whyEnded(id: number): Promise<Refusal> {
    const ended = await Import.query(this.#parts.knex).findById(id);
    return ended ? refusalOfEnded(ended) : cancelled();
  }

  /** Ends an import that will never be here as a whole. Where that cannot be written down now, the sweep does it. */
  async #endUnsent(id: number, error: unknown): Promise<void> {
    const { knex, logger } = this.#parts;
    try {
      await knex.transaction(async (trx) => {
        await Import.query(trx)
          .where({ id })
          .whereIn('state', ['waiting', 'running'])
          .patch({ state: 'failed', failure: refusalFacts(refusalOf(error)), finishedAt: new Date() });
        await dropPieces(trx, id);
      });
      await notify(knex, { type: 'progress', kind: 'import', id });
    } catch (fault) {
      if (!isDatabaseLost(fault)) logger.warn({ err: fault, import: id }, 'an import could not be ended');
    }
  }

  /** Ends those that were being sent to a service that has gone, or that lost the database meanwhile. */
  async #endBroken(): Promise<void> {
    const { knex, session } = this.#parts;
    const ours = [...this.#uploads.keys()];
    const broken = await Import.query(knex)
      .where({ held: false })
      .whereIn('state', ['waiting', 'running'])
      .where((query) =>
        query.whereRaw(noSession('received_by')).orWhere((own) =>
          own
            .where({ receivedBy: session.name ?? '' })
            .whereNotIn('id', ours)
            .where('startedAt', '<', knex.raw(`now() - interval '${BEING_BEGUN_SECONDS} seconds'`)),
        ),
      )
      .patch({ state: 'failed', failure: refusalFacts(brokenOff()), finishedAt: new Date() })
      .returning('id');
    for (const { id } of broken as unknown as Import[]) await notify(knex, { type: 'progress', kind: 'import', id });
  }

  async #sweep(): Promise<void> {
    const { knex, logger } = this.#parts;
    try {
      await this.#endBroken();
      const ended = Import.query(knex).whereNotIn('state', ['waiting', 'running']).select('id');
      await ImportPiece.query(knex).whereIn('importId', ended).delete();
      await Import.query(knex)
        .whereIn('state', ['failed', 'cancelled'])
        .where('finishedAt', '<', knex.raw(`now() - interval '${KEPT_DAYS} days'`))
        .delete();
    } catch (error) {
      logger.warn({ err: error }, 'the imports cannot be looked through');
    }
  }
}
