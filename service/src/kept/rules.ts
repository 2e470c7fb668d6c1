import { type CountryData, countryDataOf } from '@jade-fence/core/country';
import { type Prepared, prepare } from '@jade-fence/core/engine';
import { nextExpiry } from '@jade-fence/core/live';
import type { Resolutions } from '@jade-fence/core/resolution';
import { linkFiles, readFiles } from '@jade-fence/core/workspace';
import type { Logger } from 'pino';
import { flatCountryFile } from '../country/compile.js';
import type { DecideBy } from '../live/live-rules.js';
import { compileLoads } from '../resolution/packed.js';
import type { KeptPlan } from './plan.js';

const LONGEST_WAIT_MS = 3_600_000;

/** The rules of a kept plan, to be decided by: anew whenever an entry of a list runs out. */
export class KeptRules {
  readonly plan: KeptPlan;
  readonly #logger: Logger;
  readonly #countryData: CountryData | undefined;
  readonly #resolutions: Resolutions;
  #first: Prepared | undefined;
  #timer: NodeJS.Timeout | undefined;
  #closed = false;

  /** Throws where the plan is none, or its rules do not hold: another version of the service may have kept it. */
  constructor(plan: KeptPlan, logger: Logger) {
    this.plan = plan;
    this.#logger = logger;
    const { country, resolutions = [] } = plan;
    this.#countryData = country === null ? undefined : countryDataOf(flatCountryFile(Buffer.from(country, 'base64')));
    this.#resolutions = {
      table: compileLoads(resolutions.map((load) => Buffer.from(load, 'base64'))),
      later: new Map(),
    };
    this.#first = this.#prepare(Date.now());
  }

  /** Has them decided by until it is closed; once more where it is called again. */
  async open(decideBy: DecideBy): Promise<void> {
    const prepared = this.#first ?? this.#prepare(Date.now());
    this.#first = undefined;
    await this.#use(prepared, decideBy);
  }

  close(): void {
    this.#closed = true;
    clearTimeout(this.#timer);
  }

  #prepare(at: number): Prepared {
    const { workspace, issues } = linkFiles([readFiles(this.plan.documents)]);
    if (issues.length > 0) throw new Error(`the kept rules are invalid: ${issues[0]?.what}`);
    return prepare(workspace, { countryData: this.#countryData, resolutions: this.#resolutions, at });
  }

  async #use(prepared: Prepared, decideBy: DecideBy): Promise<void> {
    await decideBy(this.plan.revision, prepared);
    clearTimeout(this.#timer);
    const next = nextExpiry(prepared.workspace, prepared.at);
    if (next === undefined || this.#closed) return;
    const again = () =>
      this.#use(this.#prepare(Date.now()), decideBy).catch((error) =>
        this.#logger.warn({ err: error }, 'the kept rules stay as they were'),
      );
    this.#timer = setTimeout(again, Math.min(Math.max(next - Date.now() + 1, 1), LONGEST_WAIT_MS));
    this.#timer.unref();
  }
}
