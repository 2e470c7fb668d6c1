import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { refusal } from '../fault/refusal.js';
import { type JobParts, JobRunner } from '../job/runner.js';
import type { RequestLog } from '../model/request-log.js';
import { Resolve } from '../model/resolve.js';
import { currentSettings } from '../setting/settings.js';
import type { WorkerPool } from '../worker/pool.js';
import { NO_COUNTS, ResolveWork } from './work.js';

/** How long a look-up that has ended stays listed. */
const KEPT_DAYS = 30;

export interface ResolveOrder {
  /** Whose hosts to resolve; undefined: `hosts`. */
  readonly log: RequestLog | undefined;
  /** Names in normal form. */
  readonly hosts: readonly string[] | undefined;
  readonly by: 'dns' | 'log';
  readonly actor: string;
}

/** Orders that hosts are resolved, runs what the queue gives this service, and cancels it. */
export class Resolves {
  readonly #parts: JobParts & { readonly pool: WorkerPool };
  readonly #jobs: JobRunner<Resolve>;

  constructor(parts: JobParts & { readonly pool: WorkerPool }) {
    this.#parts = parts;
    this.#jobs = new JobRunner<Resolve>(parts, new ResolveWork(parts));
  }

  open(): Promise<void> {
    return this.#jobs.open();
  }

  stop(): Promise<void> {
    return this.#jobs.stop();
  }

  /** Asks a resolve to stop, whichever service runs it, and waits until it has. What was answered is kept. */
  cancel(id: number): Promise<void> {
    return this.#jobs.cancel(id);
  }

  /** Stores the order and puts it into the queue; answers at once. */
  async order({ log, hosts, by, actor }: ResolveOrder): Promise<Resolve> {
    const { knex } = this.#parts;
    if (by === 'dns' && (await currentSettings(knex)).dnsServers.length === 0) throw refusal('no-dns-servers');
    const resolve = await knex.transaction(async (trx) => {
      await Resolve.query(trx).whereRaw(`finished_at < now() - interval '${KEPT_DAYS} days'`).delete();
      const stored = await Resolve.query(trx)
        .insert({
          ...{ logId: log?.id ?? null, logName: log?.name ?? null, hosts: hosts ? [...hosts] : null, by, actor },
          ...{ state: 'waiting', total: null, counts: NO_COUNTS, examples: [] },
        })
        .returning('*');
      const detail = { by, ...(hosts && { hosts: hosts.length }) };
      await note(trx, [
        { actor, action: 'resolve-ordered', kind: 'resolve', name: log?.name ?? String(stored.id), detail },
      ]);
      return stored;
    });
    await this.#jobs.enqueue(resolve.id);
    return resolve;
  }
}

/** The resolve with the number. Refuses with `unknown-resolve`. */
export async function findResolve(knex: Knex, id: number): Promise<Resolve> {
  const found = await Resolve.query(knex).findById(id);
  if (found) return found;
  throw refusal('unknown-resolve', { id });
}

/** The newest resolves first. */
export function pageOfResolves(knex: Knex, page: PageAsked<number>): Promise<Page<Resolve, number>> {
  return pageOf(Resolve.query(knex), 'id', 'desc', page);
}
