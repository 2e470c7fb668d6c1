import type { Knex } from 'knex';
import type { QueryBuilder } from 'objection';
import { note } from '../audit/audit.js';
import { sweep } from '../database/sweep.js';
import { refusal, refusalFacts } from '../fault/refusal.js';
import { refusalOf } from '../job/refusal-of.js';
import { BegunTooOften, type JobRun, type JobWork } from '../job/runner.js';
import { Import } from '../model/import.js';
import type { Job } from '../model/job.js';
import type { WorkerPool } from '../worker/pool.js';
import { importLog } from './import-log.js';
import { dropPieces, keptPieces } from './pieces.js';
import { brokenOff } from './refusals.js';
import { findImport } from './store.js';
import type { Upload } from './upload.js';

interface ImportWorkParts {
  readonly knex: Knex;
  readonly pool: WorkerPool;
  readonly maxUpload: number;
  /** What is being sent to this service, by the numbers of their imports. */
  readonly uploads: ReadonlyMap<number, Upload>;
}

/** How an import is run. */
export class ImportWork implements JobWork<Import> {
  readonly kind = 'import';
  readonly model = Import;
  readonly #parts: ImportWorkParts;

  constructor(parts: ImportWorkParts) {
    this.#parts = parts;
  }

  async run(job: Import, { signal, progress, done }: JobRun<Import>): Promise<void> {
    const { knex, pool, maxUpload, uploads } = this.#parts;
    const { id, name, actor } = job;
    const upload = uploads.get(id);
    const pieces = upload?.follower(signal) ?? (await this.#kept(id));
    let read = 0;
    async function* shown(): AsyncGenerator<Buffer> {
      for await (const piece of pieces) {
        signal.throwIfAborted();
        yield piece;
        read += piece.length;
        await progress(read);
      }
    }
    const options = {
      ...{ name, redact: job.redact, maxBytes: maxUpload },
      ...{ format: job.format ?? undefined, mapping: job.mapping ?? undefined },
    };
    const written = knex.transaction(async (trx) => {
      const log = await importLog(trx, pool, shown(), options);
      signal.throwIfAborted();
      const { requests, rejected, bytes } = log;
      const detail = { requests, rejected, bytes };
      await note(trx, [{ actor, action: 'log-imported', kind: 'log', name, detail }]);
      await dropPieces(trx, id);
      await done({ done: read, received: read, held: true, logId: log.id }, trx);
    });
    await written.catch((error) => {
      // An upload that is not kept cannot be restarted; its sender gets the reason.
      if (upload?.keeps === false && !signal.aborted) upload.stop(error);
      throw error;
    });
    void sweep(knex);
  }

  /** The kept upload of an import whose sender is gone; read anew, since it may only just be complete. */
  async #kept(id: number): Promise<AsyncIterable<Buffer>> {
    const { knex } = this.#parts;
    const { held, pieces } = await findImport(knex, id);
    if (!held) throw brokenOff();
    return keptPieces(knex, id, pieces);
  }

  discard(knex: Knex, id: number): Promise<void> {
    return dropPieces(knex, id);
  }

  failure(error: unknown): Partial<Import> {
    const problem =
      error instanceof BegunTooOften ? refusal('begun-too-often', { message: error.message }) : refusalOf(error);
    return { failure: refusalFacts(problem) };
  }

  /** What is not here as a whole could only wait for the rest of it. */
  ready(query: QueryBuilder<Job, Job[]>): void {
    query.where({ held: true });
  }
}
