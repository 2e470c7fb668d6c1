import type { Decision } from '../engine/index.js';
import { defaultSentence, type Field, type Policy, ruleSentence, type Verdict } from '../policy/index.js';
import { remarksOf } from './remarks.js';
import type { PolicyReport, Report, RuleReport, Share, Shared } from './report.js';

/** More distinct hosts than this are counted together, so that memory stays bounded. */
const MOST_HOSTS = 200_000;
const HOSTS_TOLD = 200;

type Counts<K> = Map<K, number>;
type Key = string | null;

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

class PolicyTally {
  readonly #policy: Policy;
  readonly #rules: readonly RuleTally[];
  #requests = 0;
  #byDefault = 0;
  #blocked = 0;

  constructor(policy: Policy) {
    this.#policy = policy;
    this.#rules = policy.rules.map(() => new RuleTally());
  }

  add(decision: Decision, time: number | undefined): void {
    this.#requests++;
    if (decision.verdict === 'block') this.#blocked++;
    if (decision.decidedBy === this.#rules.length) this.#byDefault++;
    decision.outcomes.forEach((_, index) => {
      (this.#rules[index] as RuleTally).add(decision, index, time);
    });
  }

  report(): PolicyReport {
    const policy = this.#policy;
    let arrived = this.#requests;
    const rules = policy.rules.map((rule, index): RuleReport => {
      const tally = this.#rules[index] as RuleTally;
      const told = {
        rule: rule.name,
        sentence: ruleSentence(rule),
        stance: rule.stance,
        then: rule.then,
        arrived,
        ...tally.figures(policy),
      };
      arrived -= told.decided;
      return told;
    });
    const report = {
      policy: policy.name,
      stance: policy.stance,
      clientFrom: policy.client.from,
      requests: this.#requests,
      verdicts: { allow: this.#requests - this.#blocked, block: this.#blocked },
      rules,
      default: { then: policy.default, sentence: defaultSentence(policy), arrived, decided: this.#byDefault },
    };
    return { ...report, remarks: remarksOf(report) };
  }
}

class RuleTally {
  #decided = 0;
  #observed = 0;
  #overtaken = 0;
  #blind = 0;
  readonly #overtakenBy: Counts<number> = new Map();
  readonly #unseen: Counts<Field> = new Map();
  readonly #span = new TimeSpan();

  add(decision: Decision, index: number, time: number | undefined): void {
    const outcome = decision.outcomes[index];
    switch (outcome?.role) {
      case 'decided':
        this.#decided++;
        this.#span.add(time);
        return;
      case 'observed':
        this.#observed++;
        this.#span.add(time);
        return;
      case 'overtaken':
        this.#overtaken++;
        count(this.#overtakenBy, decision.decidedBy);
        return;
      case 'blind':
        this.#blind++;
        for (const field of outcome.unseen) count(this.#unseen, field);
        return;
      case 'passed':
      case 'off':
      case undefined:
        return;
    }
  }

  figures(policy: Policy): Omit<RuleReport, 'rule' | 'sentence' | 'stance' | 'then' | 'arrived'> {
    return {
      decided: this.#decided,
      observed: this.#observed,
      overtaken: this.#overtaken,
      blind: this.#blind,
      overtakenBy: mostFirst(this.#overtakenBy).map(([index, requests]) => ({
        rule: policy.rules[index]?.name ?? '',
        requests,
      })),
      unseen: mostFirst(this.#unseen).map(([field, requests]) => ({ field, requests })),
      first: this.#span.first,
      last: this.#span.last,
    };
  }
}

class ShareTally {
  readonly #shares = new Map<Key, { -readonly [K in keyof Shared]: number }>();
  readonly #most: number;
  #beyond = 0;

  constructor(most: number) {
    this.#most = most;
  }

  /** How many requests had a key that found no room. */
  get beyond(): number {
    return this.#beyond;
  }

  add(key: Key, outcome: Verdict | 'uncovered'): void {
    let share = this.#shares.get(key);
    if (!share) {
      if (this.#shares.size >= this.#most) {
        this.#beyond++;
        return;
      }
      share = { requests: 0, allow: 0, block: 0, uncovered: 0 };
      this.#shares.set(key, share);
    }
    share.requests++;
    share[outcome]++;
  }

  shares(): [Key, Shared][] {
    return [...this.#shares].sort(([a, x], [b, y]) => y.requests - x.requests || compareKeys(a, b));
  }
}

class TimeSpan {
  #first = Number.POSITIVE_INFINITY;
  #last = Number.NEGATIVE_INFINITY;

  add(time: number | undefined): void {
    if (time === undefined) return;
    if (time < this.#first) this.#first = time;
    if (time > this.#last) this.#last = time;
  }

  get first(): string | null {
    return Number.isFinite(this.#first) ? new Date(this.#first).toISOString() : null;
  }

  get last(): string | null {
    return Number.isFinite(this.#last) ? new Date(this.#last).toISOString() : null;
  }
}

function count<K>(counts: Counts<K>, key: K): void {
  counts.set(key, (counts.get(key) ?? 0) + 1);
}

function mostFirst<K extends string | number>(counts: Counts<K>): [K, number][] {
  return [...counts].sort(([a, x], [b, y]) => y - x || compareKeys(String(a), String(b)));
}

function compareKeys(a: Key, b: Key): number {
  return a === b ? 0 : a === null ? 1 : b === null ? -1 : a < b ? -1 : 1;
}
