import type { ColumnTable } from '../column/index.js';
import type { Test } from '../condition/index.js';
import {
  allRows,
  type ChunkFacts,
  chunkFacts,
  compilePlan,
  Judge,
  noClients,
  type Outcome,
  type Prepared,
  RunMemory,
} from '../engine/index.js';
import type { Policy, Rule } from '../policy/index.js';
import { NO_REDACTION } from '../redact/index.js';
import { DEFAULT_PATHS } from '../url/index.js';

/** The names for a request in no category, or of no known application. */
const NONE = { category: 'uncategorised', application: 'unidentified' } as const;

export type CatalogueField = keyof typeof NONE;

/**
 * Finds the categories and applications of requests: as rules that only observe, one for each, so that the same engine
 * finds them that judges.
 */
export class Catalogue {
  readonly #judge: Judge;
  readonly #memory: RunMemory;
  readonly #names: readonly (readonly [CatalogueField, string])[];

  /** `memory`: that of the run; by default one of its own. */
  constructor(prepared: Prepared, memory = new RunMemory()) {
    this.#memory = memory;
    const { categories, applications } = prepared;
    this.#names = [
      ...[...categories.keys()].map((name) => ['category', name] as const),
      ...[...applications.keys()].map((name) => ['application', name] as const),
    ];
    // It belongs to no policy, and resolves destinations where any policy does.
    const resolve = [...prepared.workspace.policies.values()].some(({ destinations }) => destinations.resolve);
    this.#judge = new Judge(compilePlan(policyOf(this.#names, resolve), prepared));
  }

  get isEmpty(): boolean {
    return this.#names.length === 0;
  }

  get outcomes(): readonly Outcome[] {
    return this.#judge.outcomes;
  }

  /** The facts of a chunk that is looked at for itself. */
  facts(table: ColumnTable): ChunkFacts {
    return chunkFacts(table, this.#judge.plan.prepared.resolutions, this.#memory);
  }

  /** For each row of the chunk the number of its outcome. */
  rows(chunk: ChunkFacts): Int32Array {
    const { rows } = chunk.table;
    // The catalogue never depends on the client.
    return this.#judge.rows({ ...chunk, rows: allRows(rows), clients: noClients(rows) }).outcomes;
  }

  /** The names that an outcome belongs to; null when unknown. */
  names(outcome: number, field: CatalogueField): (string | null)[] {
    const { observed, blind } = this.#judge.outcomes[outcome] as Outcome;
    const ofField = (rule: number) => this.#names[rule]?.[0] === field;
    const found = observed.filter(ofField).map((rule) => (this.#names[rule] as readonly [string, string])[1]);
    if (found.length > 0) return found;
    return blind.some(({ rule }) => ofField(rule)) ? [null] : [NONE[field]];
  }
}

/** These rules are in no file. */
const NOWHERE = { start: 0, end: 0 };

const testFor = (field: CatalogueField, name: string): Test => ({
  field,
  name: undefined,
  values: [{ type: 'name', name, at: { span: NOWHERE, path: [] } }],
});

function policyOf(names: readonly (readonly [CatalogueField, string])[], resolve: boolean): Policy {
  const rules = names.map(
    ([field, name]): Rule => ({
      name: `${field}-${name}`,
      note: undefined,
      when: [[testFor(field, name)]],
      unless: [],
      limit: undefined,
      then: { type: 'allow' },
      stance: 'observe',
      record: 'quiet',
      ifBlind: 'no-match',
      span: NOWHERE,
    }),
  );
  return {
    type: 'policy',
    name: '',
    file: '',
    note: undefined,
    covers: { hosts: [], clients: [] },
    client: { from: 'peer' },
    destinations: { resolve },
    paths: DEFAULT_PATHS,
    default: { type: 'allow' },
    stance: 'enforce',
    rules,
    redact: NO_REDACTION,
  };
}
