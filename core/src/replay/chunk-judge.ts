import { type ColumnTable, takeRows } from '../column/index.js';
import { chunkFacts, type Prepared, RunMemory } from '../engine/index.js';
import { Catalogue } from './catalogue.js';
import { ChunkRun } from './chunk-run.js';
import { ChunkClients } from './clients.js';
import { selectRows } from './filter/filter.js';
import { asksForCatalogue } from './filter/request-filter.js';
import type { FinishedChunk } from './finished-chunk.js';
import type { ResolvedRows } from './pending/limit-operator.js';
import { Examples, type PendingRows } from './pending/pending-rows.js';
import { PolicyRun } from './policy-run.js';
import { DIMENSIONS } from './report.js';
import { allToOne, Routing } from './routing.js';
import type { RunScope } from './run-scope.js';
import { numberSlots, type Slot } from './slot.js';
import { BreakdownCounter } from './tally/breakdowns.js';

/** A chunk is finished at once, or some of its rows wait for their limits to be resolved, policy by policy. */
export type JudgedChunk = FinishedChunk | { readonly number: number; readonly pending: readonly PendingRows[] };

/**
 * Judges chunks of a replay, in any order and any number of them: several of these can share a replay. A
 * `Coordinator` does what needs the whole replay: limits and the report.
 */
export class ChunkJudge {
  readonly slots: readonly Slot[];
  readonly #number: number;
  readonly #prepared: Prepared;
  readonly #routing: Routing | undefined;
  readonly #policies: readonly PolicyRun[];
  readonly #counter: BreakdownCounter;
  readonly #examples: readonly Examples[];
  readonly #memory = new RunMemory();
  readonly #only: ((table: ColumnTable) => Uint32Array) | undefined;
  readonly #pending = new Map<number, ChunkRun>();

  /** `number` tells the judges of a replay apart, from 0. */
  constructor({ prepared, policies, routed, options }: RunScope, number = 0) {
    this.#number = number;
    const { slots, first } = numberSlots(policies);
    this.slots = slots;
    this.#prepared = prepared;
    this.#routing = routed ? new Routing(prepared, policies) : undefined;
    this.#policies = policies.map((each) => new PolicyRun(each, first.get(each.name) as number, prepared, options));
    this.#counter = new BreakdownCounter(prepared, options.breakdowns ?? DIMENSIONS, this.#memory);
    this.#examples = policies.map(() => new Examples());
    const { only } = options;
    const catalogue = only && asksForCatalogue(only) ? new Catalogue(prepared) : undefined;
    this.#only = only && ((table) => selectRows(table, only, catalogue));
  }

  /** Judges the chunk of the number. What waits of it is kept until `resolve`. */
  judge(number: number, table: ColumnTable): JudgedChunk {
    const rows = this.#only?.(table);
    const own = rows === undefined || rows.length === table.rows ? table : takeRows(table, rows);
    const clients = new ChunkClients(own, this.#prepared);
    const facts = chunkFacts(own, this.#prepared.resolutions, this.#memory);
    const parts = { ...facts, clients, logRows: own === table ? undefined : rows };
    const routes = this.#routing?.route(facts, clients) ?? allToOne(own.rows);
    const chunk = new ChunkRun(parts, this.#policies, this.#prepared, routes);
    const pending = chunk.judge(this.#examples);
    if (pending.length === 0) return { number, ...chunk.finish(this.#counter, this.#number) };
    this.#pending.set(number, chunk);
    return { number, pending };
  }

  /** Finishes a chunk of which rows have waited. */
  resolve(number: number, resolved: readonly ResolvedRows[]): FinishedChunk {
    const chunk = this.#pending.get(number);
    if (chunk === undefined) throw new Error(`no row of chunk ${number} waits here`);
    this.#pending.delete(number);
    for (const rows of resolved) chunk.resolve(rows);
    return { number, ...chunk.finish(this.#counter, this.#number) };
  }
}
