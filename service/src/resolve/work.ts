import type { ResolveCountsBody } from '@jade-fence/contract';
import { AnswersOfLog, HostsOfLog } from '@jade-fence/core/destination';
import { type Answer, isToResolve, NO_RESOLUTIONS, type Resolutions } from '@jade-fence/core/resolution';
import type { Knex } from 'knex';
import { refusal, refusalFacts } from '../fault/refusal.js';
import { refusalOf } from '../job/refusal-of.js';
import { BegunTooOften, type JobRun, type JobWork } from '../job/runner.js';
import { chunkBytes } from '../log/store.js';
import { LogChunk } from '../model/request-log.js';
import { Resolve } from '../model/resolve.js';
import { addAnswers } from '../resolution/add.js';
import { ResolutionStates } from '../resolution/states.js';
import { newestResolutions, storedLoads } from '../resolution/store.js';
import { currentSettings } from '../setting/settings.js';
import { once } from '../worker/once.js';
import type { WorkerPool } from '../worker/pool.js';
import { lookUpHosts } from './look-up.js';

/** More hosts of a log than this are not looked up at once. */
const MOST_HOSTS = 100_000;
const MOST_ANSWERS_OF_LOG = 1_000_000;
/** Answers are added so many at a time, so that a resolve that is cancelled has not asked in vain. */
const BATCH = 1000;
const MOST_EXAMPLES = 50;

interface ResolveWorkParts {
  readonly knex: Knex;
  readonly pool: WorkerPool;
}

type Outcome = keyof Omit<ResolveCountsBody, 'beyond'>;

export const NO_COUNTS: ResolveCountsBody = { found: 0, none: 0, failed: 0, withheld: 0, private: 0, beyond: 0 };

/** How the hosts of a log are resolved. */
export class ResolveWork implements JobWork<Resolve> {
  readonly kind = 'resolve';
  readonly model = Resolve;
  readonly #parts: ResolveWorkParts;

  constructor(parts: ResolveWorkParts) {
    this.#parts = parts;
  }

  run(resolve: Resolve, run: JobRun<Resolve>): Promise<void> {
    return resolve.by === 'dns' ? this.#ask(resolve, run) : this.#readLog(resolve, run);
  }

  /** What was answered is kept, whatever comes of the rest. */
  async discard(): Promise<void> {}

  failure(error: unknown): Partial<Resolve> {
    const problem =
      error instanceof BegunTooOften
        ? refusal('begun-too-often/resolve', { message: error.message })
        : refusalOf(error);
    return { failure: refusalFacts(problem) };
  }

  async #ask(resolve: Resolve, { signal, progress, done }: JobRun<Resolve>): Promise<void> {
    const { knex } = this.#parts;
    const settings = await currentSettings(knex);
    if (settings.dnsServers.length === 0) throw refusal('no-dns-servers');
    const { hosts, beyond } = await this.#hostsOf(resolve, signal);
    await Resolve.query(knex).findById(resolve.id).patch({ total: hosts.length });
    const counts: Record<Outcome, number> = { found: 0, none: 0, failed: 0, withheld: 0, private: 0 };
    const examples: { host: string; why: string }[] = [];
    let [batch, looked, loadId]: [Answer[], number, number | null] = [[], 0, null];
    const add = async () => {
      if (batch.length === 0) return;
      const name = settings.dnsServers.join(', ');
      loadId = await addAnswers(knex, batch, { kind: 'dns', name, by: resolve.actor });
      batch = [];
    };
    for await (const each of lookUpHosts(hosts, settings, signal)) {
      counts[each.outcome]++;
      if ('answer' in each) batch.push(each.answer);
      const why = 'why' in each ? each.why : each.outcome === 'private' ? LEADS_INSIDE : undefined;
      if (why !== undefined && examples.length < MOST_EXAMPLES) examples.push({ host: each.host, why });
      if (batch.length >= BATCH) await add();
      await progress(++looked);
    }
    await add();
    signal.throwIfAborted();
    await done({ done: looked, total: looked, counts: { ...counts, beyond }, examples, loadId });
  }

  /** The hosts that are not known, or not any more, those with most requests first. */
  async #hostsOf(
    { logId, hosts }: Resolve,
    signal: AbortSignal,
  ): Promise<{ readonly hosts: string[]; readonly beyond: number }> {
    if (hosts !== null) return { hosts, beyond: 0 };
    const { knex, pool } = this.#parts;
    const [resolutions, now] = [await presentResolutions(knex), Date.now()];
    const found = new HostsOfLog(MOST_HOSTS, (host) => isToResolve(resolutions, host, now));
    for await (const chunk of chunksOf(knex, logId, signal)) found.add(await pool.ask('hostsOfChunk', [chunk]));
    return { hosts: found.hosts, beyond: found.beyond };
  }

  async #readLog({ logId, logName, actor }: Resolve, { signal, progress, done }: JobRun<Resolve>): Promise<void> {
    const { knex, pool } = this.#parts;
    const name = logName ?? '';
    const gathered = new AnswersOfLog({ kind: 'log', name }, Date.now(), MOST_ANSWERS_OF_LOG);
    let chunks = 0;
    for await (const chunk of chunksOf(knex, logId, signal)) {
      gathered.add(await pool.ask('hostAddressesOfChunk', [chunk]));
      await progress(++chunks);
    }
    signal.throwIfAborted();
    const { answers, beyond } = gathered;
    if (answers.length === 0) throw refusal('no-destinations-in-log', { log: name });
    const loadId = await addAnswers(knex, answers, { kind: 'log', name, by: actor });
    await done({ done: chunks, total: chunks, counts: { ...NO_COUNTS, found: answers.length, beyond }, loadId });
  }
}

const LEADS_INSIDE = 'a public name was answered with an address of private networks';

/** What is known of hosts now. */
async function presentResolutions(knex: Knex): Promise<Resolutions> {
  const id = await newestResolutions(knex);
  return id === undefined
    ? NO_RESOLUTIONS
    : new ResolutionStates().load(storedLoads(knex), id, async (loads) => once('compileLoads', [loads]));
}

async function* chunksOf(knex: Knex, logId: number | null, signal: AbortSignal): AsyncGenerator<Buffer> {
  const chunks = await LogChunk.query(knex).where({ logId }).select('number').orderBy('number');
  for (const { number } of chunks) {
    signal.throwIfAborted();
    yield await chunkBytes(knex, logId as number, number);
  }
}
