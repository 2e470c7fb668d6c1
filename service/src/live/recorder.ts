import type { RuleCount } from '@jade-fence/contract';
import { formatAddress } from '@jade-fence/core/address';
import type { LiveDecision } from '@jade-fence/core/live';
import { type Pseudonym, Redactor } from '@jade-fence/core/redact';
import type { Request } from '@jade-fence/core/request';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { pseudonymsOf } from '../redaction/pseudonyms.js';
import { requestBody } from '../replay/requests.js';
import type { Alerts } from './alerts.js';
import type { DecidedRequest } from './answer.js';
import type { InForce } from './in-force.js';
import { storableJson } from './storable.js';
import { addUsage } from './usage.js';

const FLUSH_MS = 1000;
/** This many decisions a second are recorded; the others are counted. */
export const MOST_A_SECOND = 1000;
/** This many of the newest are kept. */
const MOST_KEPT = 100_000;
const TRIM_EVERY = 60;
/** Usage is written at every fifth flush: what a service that is killed loses of it is seconds. */
const USAGE_EVERY = 5;
const COLUMNS = 'at, revision, policy, rule, verdict, effect, record, reference, shown';
const INSERT = `insert into decisions (${COLUMNS}) select ${COLUMNS} from jsonb_populate_recordset(null::decisions, ?)`;

interface Recorded {
  readonly at: number;
  readonly inForce: InForce;
  readonly decision: LiveDecision;
  readonly decided: DecidedRequest;
}

interface Count extends Omit<RuleCount, 'count'> {
  count: number;
  /** How many of them are written down as usage. */
  written: number;
}

/** Counts every decision, and writes down those that rules ask to be recorded, some at a time and off the way. */
export class Recorder {
  readonly #knex: Knex;
  readonly #logger: Logger;
  readonly #alerts: Alerts;
  readonly #counts = new Map<string, Count>();
  /** What a decision is counted under. Decisions that are alike are one, so that names need not be put together. */
  readonly #countsOf = new WeakMap<LiveDecision, readonly Count[]>();
  #waiting: Recorded[] = [];
  #pseudonyms: Pseudonym | undefined;
  #unrecorded = 0;
  #flushes = 0;
  #ticks = 0;
  #timer: NodeJS.Timeout | undefined;
  #flushing: Promise<void> = Promise.resolve();

  constructor(knex: Knex, alerts: Alerts, logger: Logger) {
    this.#knex = knex;
    this.#alerts = alerts;
    this.#logger = logger;
  }

  open(): void {
    this.#timer = setInterval(() => {
      this.#flush();
      if (++this.#ticks % USAGE_EVERY === 0) this.#flushUsage();
    }, FLUSH_MS);
    this.#timer.unref();
  }

  async close(): Promise<void> {
    clearInterval(this.#timer);
    this.#flush();
    this.#flushUsage();
    await this.#flushing;
  }

  note(inForce: InForce, decision: LiveDecision, decided: DecidedRequest): void {
    let counts = this.#countsOf.get(decision);
    if (counts === undefined) {
      counts = this.#findCounts(decision);
      this.#countsOf.set(decision, counts);
    }
    for (const each of counts) each.count++;
    if (decision.record === 'quiet') return;
    if (this.#waiting.length < MOST_A_SECOND) this.#waiting.push({ at: Date.now(), inForce, decision, decided });
    else this.#unrecorded++;
  }

  get counts(): readonly RuleCount[] {
    return [...this.#counts.values()].map(({ written: _, ...count }) => count);
  }

  /** Decisions that were to be recorded, and were too many. */
  get unrecorded(): number {
    return this.#unrecorded;
  }

  #findCounts({ policy, rule, verdict, observed }: LiveDecision): Count[] {
    const name = policy?.name ?? null;
    return [
      this.#count(name, policy ? (rule?.name ?? 'default') : null, verdict, 'decided'),
      ...observed.map((each) => this.#count(name, each.name, each.then.type, 'observed')),
    ];
  }

  #count(policy: string | null, rule: string | null, verdict: string, role: RuleCount['role']): Count {
    const key = `${policy} ${rule} ${verdict} ${role}`;
    const known = this.#counts.get(key) ?? { policy, rule, verdict, role, count: 0, written: 0 };
    this.#counts.set(key, known);
    return known;
  }

  #flush(): void {
    const some = this.#waiting;
    if (some.length === 0) return;
    this.#waiting = [];
    this.#flushing = this.#flushing
      .then(() => this.#write(some))
      .catch((error) => {
        this.#unrecorded += some.length;
        this.#logger.warn({ err: error }, 'decisions could not be recorded');
      });
  }

  /** Writes down what was counted since it was last; what cannot be written is tried again. */
  #flushUsage(): void {
    this.#flushing = this.#flushing.then(async () => {
      const grown = [...this.#counts.values()].filter(
        ({ policy, count, written }) => policy !== null && count > written,
      );
      if (grown.length === 0) return;
      const rows = grown.map(({ policy, rule, role, count, written }) => ({
        policy,
        rule,
        role,
        count: count - written,
      }));
      const counts = grown.map(({ count }) => count);
      try {
        await addUsage(this.#knex, rows);
        grown.forEach((each, at) => {
          each.written = counts[at] as number;
        });
      } catch (error) {
        this.#logger.warn({ err: error }, 'the usage of rules could not be written down');
      }
    });
  }

  async #write(some: readonly Recorded[]): Promise<void> {
    this.#pseudonyms ??= await pseudonymsOf(this.#knex);
    const pseudonym = this.#pseudonyms;
    const rows = some.map(({ at, inForce, decision, decided }) => {
      const { request, reference = null } = decided;
      const { policy, rule, verdict, effect, record } = decision;
      const seen = policy && inForce.live.clientOf(request, policy);
      const client = seen?.address ? formatAddress(seen.address) : null;
      const shown = { request: requestBody(recordable(request)), client };
      const text = policy ? new Redactor(policy.redact, pseudonym).shown(shown) : shown;
      return {
        at: new Date(at),
        revision: inForce.revision,
        policy: policy?.name ?? null,
        rule: policy ? (rule?.name ?? 'default') : null,
        ...{ verdict, effect, record, reference },
        shown: {
          ...text,
          country: seen?.country ?? null,
          destinationCountry: (policy && inForce.live.destinationCountryOf(request, policy)) ?? null,
        },
      };
    });
    // As one value: a statement with a value for each column of each row costs more than all else that is done here.
    await this.#knex.raw(INSERT, [storableJson(rows)]);
    await this.#alerts.raise(rows.filter(({ record }) => record === 'alert'));
    if (++this.#flushes % TRIM_EVERY === 0)
      await this.#knex.raw('delete from decisions where id <= (select max(id) from decisions) - ?', [MOST_KEPT]);
  }
}

/** The headers that are written down. Any other may carry what nobody is to read, whatever it is called. */
const RECORDED_HEADERS = [
  ...['accept', 'accept-encoding', 'accept-language', 'content-type', 'forwarded', 'host', 'origin', 'range'],
  ...['referer', 'sec-fetch-dest', 'sec-fetch-mode', 'sec-fetch-site', 'user-agent', 'via', 'x-forwarded-for'],
];

/** The request as it may be recorded: only the names of its parameters, since their values may be tokens. */
function recordable(request: Request): Request {
  const headers = new Map(
    RECORDED_HEADERS.flatMap((name) => {
      const values = request.headers.get(name);
      return values === undefined ? [] : [[name, values] as const];
    }),
  );
  const query = request.query === undefined ? undefined : parameterNames(request.query);
  const referrer = request.referrer?.replace(/[?#].*$/s, '');
  return { ...request, headers, allHeaders: false, query, referrer };
}

/** A parameter without a value may be a token that is nothing else, so that it shows no name either. */
const parameterNames = (query: string): string =>
  query
    .split('&')
    .map((pair) => (pair.includes('=') ? pair.replace(/=.*$/s, '=…') : '…'))
    .join('&');
