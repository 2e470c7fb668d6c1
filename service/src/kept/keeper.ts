import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { packedCountryData } from '../country/store.js';
import type { DatabaseSession } from '../database/session.js';
import { grantSecrets } from '../live/grants.js';
import type { LiveRules } from '../live/live-rules.js';
import { Token } from '../model/person.js';
import { loadsOf, newestResolutions, packedLoads } from '../resolution/store.js';
import { publishedRevision } from '../revision/store.js';
import { once } from '../worker/once.js';
import { asFile } from '../workspace/readings.js';
import { documentsOf } from '../workspace/store.js';
import { written } from '../workspace/texts.js';

/** Tokens are made and run out without a word. */
const LOOK_MS = 30_000;
const ANSWERS_EVERY_MS = 600_000;

/** Keeps what is in force in the data folder, so that a service decides by it that starts while the database is away. */
export class PlanKeeper {
  readonly #knex: Knex;
  readonly #folder: string;
  readonly #logger: Logger;
  /** What was kept last, without the rules, which the revision's number identifies. */
  #kept: string | undefined;
  /** The newest load of resolutions that was kept, and when. */
  #resolutions: number | undefined;
  #keptAt = 0;
  #keeping: Promise<void> = Promise.resolve();
  #timer: NodeJS.Timeout | undefined;

  constructor(knex: Knex, folder: string, logger: Logger) {
    this.#knex = knex;
    this.#folder = folder;
    this.#logger = logger;
  }

  open(rules: LiveRules, session: DatabaseSession): void {
    const keep = () => {
      this.#keeping = this.#keeping
        .then(() => this.#keep())
        .catch((error) => this.#logger.warn({ err: error }, 'what is in force could not be kept in the data folder'));
    };
    rules.on('loaded', keep);
    session.on('notification', ({ type }) => type === 'grants' && keep());
    this.#timer = setInterval(keep, LOOK_MS);
    this.#timer.unref();
  }

  async close(): Promise<void> {
    clearInterval(this.#timer);
    await this.#keeping;
  }

  async #keep(): Promise<void> {
    const revision = await publishedRevision(this.#knex);
    if (!revision) return;
    const tokens = await Token.query(this.#knex).where({ kind: 'gateway' }).orderBy('id');
    const gateways = tokens.map(({ hash, expiresAt }) => ({ hash, expiresAt: expiresAt?.toISOString() ?? null }));
    const { key, passcodes } = await grantSecrets(this.#knex);
    const shown = { gateways, grantKey: key.toString('base64'), passcodes: Object.fromEntries(passcodes) };
    const kept = JSON.stringify([revision.number, shown]);
    const resolutions = await newestResolutions(this.#knex);
    // Answers come all the time, and all that is kept is written each time.
    const areOld = resolutions !== this.#resolutions && Date.now() - this.#keptAt > ANSWERS_EVERY_MS;
    if (kept === this.#kept && !areOld) return;
    const documents = await written(this.#knex, await documentsOf(this.#knex, revision.versionIds));
    const { countryDataId } = revision;
    const country = countryDataId === null ? null : await packedCountryData(this.#knex, countryDataId);
    const plan = {
      ...{ revision: revision.number, documents: documents.map(asFile) },
      country: country && Buffer.from(country).toString('base64'),
      resolutions: await this.#answers(resolutions),
      ...shown,
    };
    await once('writeKeptPlan', [this.#folder, plan]);
    this.#kept = kept;
    this.#resolutions = resolutions;
    this.#keptAt = Date.now();
  }

  async #answers(id: number | undefined): Promise<string[]> {
    if (id === undefined) return [];
    const loads = await loadsOf(this.#knex, id);
    const packed = await packedLoads(
      this.#knex,
      loads.map((load) => load.id),
    );
    return packed.map((load) => Buffer.from(load).toString('base64'));
  }
}
