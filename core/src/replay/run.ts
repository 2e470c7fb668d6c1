import { formatAddress } from '../address/index.js';
import type { ColumnTable } from '../column/index.js';
import { createRouter, evaluate, type Prepared, type Router, subjectOf } from '../engine/index.js';
import { type ChunkRows } from '../log/index.js';
import type { Policy } from '../policy/index.js';
import type { Request } from '../request/index.js';
import type { Report } from './report.js';
import { numberSlots, type Slot, type Slots } from './slot.js';
import { Tally } from './tally/tally.js';
import { VerdictsBuilder } from './verdicts.js';

/**
 * A replay under way: chunks go in, in the order of the log; each gives its verdicts, and the report grows.
 * With a policy's name every request is judged by it; without, each by the policy that covers it.
 */
export class Run {
  readonly #prepared: Prepared;
  readonly #router: Router;
  readonly #slots: Slots;
  readonly #tally: Tally;

  constructor(prepared: Prepared, policy?: Policy) {
    const policies = policy ? [policy] : [...prepared.workspace.policies.values()];
    this.#prepared = prepared;
    this.#router = policy ? { route: () => policy } : createRouter(prepared);
    this.#slots = numberSlots(policies);
    this.#tally = new Tally(policies);
  }

  get slots(): readonly Slot[] {
    return this.#slots.slots;
  }

  /** Judges the rows from `from` up to `to` into the verdicts of their chunk, so that a caller can pause in between. */
  judge(rows: ChunkRows, into: VerdictsBuilder, from: number, to: number): void {
    for (let row = from; row < to; row++) this.#judgeRow(rows.request(row), row, into);
  }

  /** Judges a whole chunk. */
  chunk(rows: ChunkRows): ColumnTable {
    const verdicts = new VerdictsBuilder(rows.rows);
    this.judge(rows, verdicts, 0, rows.rows);
    return verdicts.build();
  }

  report(): Report {
    return this.#tally.report();
  }

  #judgeRow(request: Request, row: number, into: VerdictsBuilder): void {
    const policy = this.#router.route(request);
    const { time, host } = request;
    if (!policy) {
      const client = request.peer && formatAddress(request.peer);
      into.set(row, { decision: undefined, firstSlot: 0, client, country: undefined });
      this.#tally.add({ time, host, country: undefined, decision: undefined });
      return;
    }
    const subject = subjectOf(request, policy, this.#prepared);
    const decision = evaluate(policy, subject, this.#prepared);
    const country = subject.origin?.country;
    const client = subject.client.address && formatAddress(subject.client.address);
    into.set(row, { decision, firstSlot: this.#slots.first.get(policy.name) as number, client, country });
    this.#tally.add({ time, host, country, decision });
  }
}
