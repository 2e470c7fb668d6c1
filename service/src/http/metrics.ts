import type { RequestHandler } from 'express';
import type { Knex } from 'knex';
import { Counter, collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import { Revision } from '../model/revision.js';

const SECONDS = [0.005, 0.02, 0.1, 0.3, 1, 3, 10, 60];

/** What the service counts of itself, in the text format of Prometheus. */
export class Metrics {
  readonly #registry = new Registry();
  readonly #calls: Histogram<'method' | 'route' | 'status'>;
  readonly #signIns: Counter<'outcome'>;

  constructor(knex: Knex) {
    const registers = [this.#registry];
    collectDefaultMetrics({ register: this.#registry, prefix: 'jade_fence_' });
    this.#calls = new Histogram({
      name: 'jade_fence_http_request_seconds',
      help: 'How long calls took, by method, route and status',
      labelNames: ['method', 'route', 'status'],
      buckets: SECONDS,
      registers,
    });
    this.#signIns = new Counter({
      name: 'jade_fence_sign_ins_total',
      help: 'Sign-ins, by whether they went well',
      labelNames: ['outcome'],
      registers,
    });
    for (const [table, what] of [
      ['replays', 'Replays'],
      ['imports', 'Imports of logs'],
    ] as const)
      new Gauge({
        name: `jade_fence_${table}`,
        help: `${what} that are stored, by state`,
        labelNames: ['state'],
        registers,
        async collect() {
          this.reset();
          const rows = await knex(table).select('state').count('* as count').groupBy('state');
          for (const { state, count } of rows) this.set({ state: String(state) }, Number(count));
        },
      });
    new Gauge({
      name: 'jade_fence_revision',
      help: 'The number of the revision in force; 0 before the first publish',
      registers,
      async collect() {
        const newest = await Revision.query(knex).max('number as number').first();
        this.set(newest?.number ?? 0);
      },
    });
  }

  /** Counts every call under the route that answered it, never under what the caller wrote. */
  readonly watch: RequestHandler = (request, response, next) => {
    const end = this.#calls.startTimer();
    response.on('finish', () => {
      const route = (request.route as { path?: string } | undefined)?.path ?? 'none';
      end({ method: request.method, route, status: String(response.statusCode) });
    });
    next();
  };

  signedIn(outcome: 'well' | 'failed'): void {
    this.#signIns.inc({ outcome });
  }

  get type(): string {
    return this.#registry.contentType;
  }

  text(): Promise<string> {
    return this.#registry.metrics();
  }
}
