import type { Decision } from '../../engine/index.js';
import type { Policy, Verdict } from '../../policy/index.js';
import type { PolicyReport, Report, Share } from '../report.js';
import { PolicyTally } from './policy-tally.js';
import { ShareTally } from './share-tally.js';
import { TimeSpan } from './time-span.js';

/** More distinct hosts than this are counted together, so that memory stays bounded. */
const MOST_HOSTS = 200_000;
const HOSTS_TOLD = 200;

/** What one request contributes. */
export interface Counted {
  readonly time: number | undefined;
  readonly host: string | undefined;
  readonly country: string | undefined;
  /** Undefined where no policy covers the request. */
  readonly decision: Decision | undefined;
}

/** Counts decisions, one by one, in the order of the log; then tells the report. */
export class Tally {
  #requests = 0;
  #uncovered = 0;
  readonly #span = new TimeSpan();
  readonly #policies: ReadonlyMap<string, PolicyTally>;
  readonly #countries = new ShareTally(Number.POSITIVE_INFINITY);
  readonly #hosts = new ShareTally(MOST_HOSTS);

  constructor(policies: Iterable<Policy>) {
    this.#policies = new Map([...policies].map((policy) => [policy.name, new PolicyTally(policy)]));
  }

  add({ time, host, country, decision }: Counted): void {
    this.#requests++;
    this.#span.add(time);
    const outcome = decision?.verdict ?? 'uncovered';
    this.#countries.add(country ?? null, outcome);
    this.#hosts.add(host ?? null, outcome);
    if (decision) this.#policies.get(decision.policy.name)?.add(decision, time);
    else this.#uncovered++;
  }

  report(): Report {
    const policies = [...this.#policies.values()].map((tally) => tally.report());
    const summed = (of: (policy: PolicyReport) => Record<Verdict, number>) => ({
      allow: policies.reduce((sum, policy) => sum + of(policy).allow, 0),
      block: policies.reduce((sum, policy) => sum + of(policy).block, 0),
    });
    const hosts = this.#hosts.shares();
    return {
      requests: this.#requests,
      uncovered: this.#uncovered,
      verdicts: summed((policy) => policy.verdicts),
      effects: summed(effectsOf),
      first: this.#span.first,
      last: this.#span.last,
      policies,
      countries: this.#countries.shares().map(([country, share]): Share<'country'> => ({ country, ...share })),
      hosts: hosts.slice(0, HOSTS_TOLD).map(([host, share]): Share<'host'> => ({ host, ...share })),
      moreHosts: Math.max(0, hosts.length - HOSTS_TOLD) + this.#hosts.beyond,
    };
  }
}

function effectsOf({ stance, verdicts, requests }: PolicyReport): Record<Verdict, number> {
  return stance === 'enforce' ? verdicts : { allow: requests, block: 0 };
}
