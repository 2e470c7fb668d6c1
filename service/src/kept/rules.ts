import { type CountryData, countryDataOf, Live, linkFiles, nextExpiry, prepare, readFiles } from '@jade-fence/core';
import { flatCountryFile } from '../country/compile.js';
import type { InForce } from '../live/live-rules.js';
import type { KeptPlan } from './plan.js';

const LONGEST_WAIT_MS = 3_600_000;

/** The rules of a kept plan, ready to decide: anew whenever an entry of a list runs out. */
export class KeptRules {
  readonly plan: KeptPlan;
  readonly #countryData: CountryData | undefined;
  #current: InForce;
  #timer: NodeJS.Timeout | undefined;

  /** Throws where the plan is none, or its rules do not hold: another version of the service may have kept it. */
  constructor(plan: KeptPlan) {
    this.plan = plan;
    const { country } = plan;
    this.#countryData = country === null ? undefined : countryDataOf(flatCountryFile(Buffer.from(country, 'base64')));
    this.#current = this.#load();
  }

  get current(): InForce {
    return this.#current;
  }

  close(): void {
    clearTimeout(this.#timer);
  }

  #load(previous?: Live): InForce {
    const now = Date.now();
    const { workspace, issues } = linkFiles([readFiles(this.plan.documents)]);
    if (issues.length > 0) throw new Error(`the kept rules do not hold: ${issues[0]?.what}`);
    const prepared = prepare(workspace, { countryData: this.#countryData, at: now });
    const next = nextExpiry(workspace, now);
    if (next !== undefined) this.#wait(next - now + 1);
    return { revision: this.plan.revision, live: new Live(prepared, previous) };
  }

  #wait(ms: number): void {
    this.#timer = setTimeout(
      () => {
        this.#current = this.#load(this.#current.live);
      },
      Math.min(ms, LONGEST_WAIT_MS),
    );
    this.#timer.unref();
  }
}
