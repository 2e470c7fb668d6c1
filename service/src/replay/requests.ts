import { setImmediate as breathe } from 'node:timers/promises';
import {
  asksForCatalogue,
  asksForRequest,
  Catalogue,
  CHUNK_ROWS,
  ChunkRows,
  explain,
  filterRows,
  formatAddress,
  keptLimits,
  namedSlots,
  type Prepared,
  type Request,
  type RequestFilter,
  type Slot,
  subjectOf,
  Verdicts,
} from '@jade-fence/core';
import type { Knex } from 'knex';
import type { ExplainedJudgedBody, JudgedBody, RequestBody, RequestsPage } from '../http/bodies.js';
import { Problem } from '../http/problem.js';
import { notFound } from '../http/suggestion.js';
import { unpackTable } from '../log/packing.js';
import { chunkRows, chunkTable } from '../log/store.js';
import { type Replay, ReplayChunk } from '../model/replay.js';
import type { PreparedStates } from '../workspace/prepared.js';

/** So many requests are made ready together, so that other work of the service gets its turn. */
const ROWS_AT_ONCE = 4096;

export interface Paging {
  /** The number of the last request that was seen; 0 for the first page. */
  readonly after: number;
  readonly limit: number;
}

/** A page of the requests that a filter asks for, in the order of the log. */
export async function pageRequests(
  knex: Knex,
  states: PreparedStates,
  replay: Replay,
  filter: RequestFilter,
  { after, limit }: Paging,
): Promise<RequestsPage> {
  const requests: JudgedBody[] = [];
  for await (const some of matchingRequests(knex, states, replay, filter, { after, limit: limit + 1 }))
    requests.push(...some);
  const page = requests.slice(0, limit);
  return { requests: page, next: requests.length > limit ? (page.at(-1)?.number ?? null) : null };
}

/** The requests that a filter asks for, in the order of the log, some at a time: those of a chunk together. */
export async function* matchingRequests(
  knex: Knex,
  states: PreparedStates,
  replay: Replay,
  filter: RequestFilter,
  { after, limit }: Paging,
): AsyncGenerator<JudgedBody[]> {
  requireDone(replay);
  checkNames(replay, filter);
  const catalogue = asksForCatalogue(filter) ? catalogueOf(await preparedFor(states, replay), filter) : undefined;
  const chunks = Math.ceil(replay.total / CHUNK_ROWS);
  let left = limit;
  for (let number = Math.floor(after / CHUNK_ROWS); number < chunks && left > 0; number++) {
    const verdicts = await verdictsOf(knex, replay, number);
    const from = Math.max(0, after - number * CHUNK_ROWS);
    const table = asksForRequest(filter) ? await chunkTable(knex, replay.logId, number) : undefined;
    const rows = filterRows({ verdicts, table, catalogue }, replay.slots, filter, from, left);
    const shown = rows.length > 0 ? (table ?? (await chunkTable(knex, replay.logId, number))) : undefined;
    if (shown === undefined) continue;
    const chunk = new ChunkRows(shown);
    left -= rows.length;
    for (let at = 0; at < rows.length; at += ROWS_AT_ONCE) {
      if (at > 0) await breathe();
      const some = rows.slice(at, at + ROWS_AT_ONCE);
      yield some.map((row) => judgedRequest(chunk, verdicts, replay.slots, number, row));
    }
  }
}

/** One request of a replay with its explanation, by the workspace that the replay ran. */
export async function explainRequest(
  knex: Knex,
  states: PreparedStates,
  replay: Replay,
  number: number,
): Promise<ExplainedJudgedBody> {
  requireDone(replay);
  if (number < 1 || number > replay.total)
    throw new Problem(404, 'unknown-request', `The replay has no request ${number}.`, {
      remedy: `Its requests are numbered 1 to ${replay.total}.`,
    });
  const chunkNumber = Math.floor((number - 1) / CHUNK_ROWS);
  const row = (number - 1) % CHUNK_ROWS;
  const verdicts = await verdictsOf(knex, replay, chunkNumber);
  const chunk = await chunkRows(knex, replay.logId, chunkNumber);
  if (!chunk) throw new Error(`chunk ${chunkNumber} of log ${replay.logId} is missing`);
  const judged = judgedRequest(chunk, verdicts, replay.slots, chunkNumber, row);
  const prepared = await preparedFor(states, replay);
  const policy = judged.policy === null ? undefined : prepared.workspace.policies.get(judged.policy);
  const outcome = verdicts.outcome(row);
  const explanation =
    policy && outcome
      ? explain(
          policy,
          subjectOf(chunk.request(row), policy, prepared),
          prepared,
          keptLimits(policy, outcome, replay.slots),
        )
      : null;
  return { ...judged, explanation };
}

/** The workspace that a replay ran. */
async function preparedFor(states: PreparedStates, replay: Replay): Promise<Prepared> {
  const { versionIds, countryDataId, judgedAt } = replay;
  return states.get({ versionIds, countryDataId: countryDataId ?? undefined, at: judgedAt });
}

const catalogues = new WeakMap<Prepared, Catalogue>();

/** The catalogue of a workspace, which remembers what it was asked; names that it does not have are refused. */
function catalogueOf(prepared: Prepared, filter: RequestFilter): Catalogue {
  for (const [kind, none] of [
    ['category', 'uncategorised'],
    ['application', 'unidentified'],
  ] as const) {
    const name = filter[kind];
    const known = [...(kind === 'category' ? prepared.categories : prepared.applications).keys(), none, 'unseen'];
    if (name !== undefined && !known.includes(name))
      throw notFound(kind, name, known, `The replay knew: ${known.join(', ')}.`);
  }
  const catalogue = catalogues.get(prepared) ?? new Catalogue(prepared);
  catalogues.set(prepared, catalogue);
  return catalogue;
}

/** A request as plain data, in the field names of our JSON Lines form. */
export function requestBody(request: Request): RequestBody {
  const { time, peer, destination, headers, allHeaders, user, agent, referrer, met, ...rest } = request;
  const fields = {
    time: time === undefined ? undefined : new Date(time).toISOString(),
    peer: peer && formatAddress(peer),
    destination: destination && formatAddress(destination),
    user: user === '' ? 'anonymous' : user,
    agent: agent === '' ? 'absent' : agent,
    referrer: referrer === '' ? 'absent' : referrer,
    ...rest,
    met: met.length > 0 ? met : undefined,
    headers: headers.size > 0 || allHeaders ? Object.fromEntries(headers) : undefined,
  };
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) as RequestBody;
}

/** One request of a chunk, with what became of it. */
export function judgedRequest(
  chunk: ChunkRows,
  verdicts: Verdicts,
  slots: readonly Slot[],
  number: number,
  row: number,
): JudgedBody {
  const outcome = verdicts.outcome(row);
  const slot = outcome && slots[outcome.slot];
  return {
    number: number * CHUNK_ROWS + row + 1,
    line: chunk.line(row),
    request: requestBody(chunk.request(row)),
    client: verdicts.client(row),
    country: verdicts.country(row),
    verdict: outcome?.verdict ?? 'uncovered',
    policy: slot?.policy ?? null,
    rule: slot?.rule ?? null,
  };
}

/** The verdicts of a chunk. */
export async function verdictsOf(knex: Knex, replay: Replay, number: number): Promise<Verdicts> {
  const chunk = await ReplayChunk.query(knex).findById([replay.id, number]).throwIfNotFound();
  return new Verdicts(await unpackTable(chunk.data));
}

export function requireDone(replay: Replay): void {
  if (replay.state === 'done') return;
  const detail =
    replay.state === 'running'
      ? `Replay ${replay.id} is still running.`
      : `Replay ${replay.id} is ${replay.state}: ${replay.failure ?? 'it has no result.'}`;
  throw new Problem(409, `replay-${replay.state}`, detail, {
    remedy: replay.state === 'running' ? 'Ask again when it is done.' : 'Run it again.',
  });
}

/** A misspelt rule would show no requests, which looks like an answer. */
function checkNames(replay: Replay, filter: RequestFilter): void {
  const policies = [...new Set(replay.slots.map((slot) => slot.policy))];
  if (filter.policy !== undefined && !policies.includes(filter.policy))
    throw notFound('policy', filter.policy, policies, `The replay ran: ${policies.join(', ') || 'no policy'}.`);
  if (filter.rule === undefined || namedSlots(replay.slots, filter).length > 0) return;
  const rules = replay.slots
    .filter((slot) => filter.policy === undefined || slot.policy === filter.policy)
    .map((slot) => slot.rule ?? 'default');
  throw notFound('rule', filter.rule, rules, `The replay ran: ${[...new Set(rules)].join(', ')}.`);
}
