import { setImmediate as breathe } from 'node:timers/promises';
import type { ExplainedJudgedBody, JudgedBody, RequestBody, RequestsPage } from '@jade-fence/contract';
import { type Address, formatAddress } from '@jade-fence/core/address';
import { explain, type Prepared, subjectOf } from '@jade-fence/core/engine';
import { ChunkRows } from '@jade-fence/core/log';
import type { Verdict } from '@jade-fence/core/policy';
import {
  asksForCatalogue,
  asksForRequest,
  Catalogue,
  filterRows,
  keptLimits,
  type LogFilter,
  namedSlots,
  type RequestFilter,
  type Slot,
  type Verdicts,
} from '@jade-fence/core/replay';
import type { Request } from '@jade-fence/core/request';
import type { Knex } from 'knex';
import { notFound } from '../fault/not-found.js';
import { refusal } from '../fault/refusal.js';
import type { Replay } from '../model/replay.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { chunksBehind, chunksFor, opened, type PlacedChunk, placedChunks, readChunk } from './chunks.js';
import { standingsOf } from './standings.js';
import { stateOf } from './store.js';

/** This many requests are prepared in one go, so that other work of the service gets its turn. */
const ROWS_AT_ONCE = 4096;

export interface Paging {
  /** The number of the last request that was seen; 0 for the first page. */
  readonly after: number;
  readonly limit: number;
}

/** A page of the requests that a filter selects, in the order of the log. */
export async function pageRequests(
  knex: Knex,
  states: PreparedStates,
  replay: Replay,
  filter: RequestFilter,
  { after, limit }: Paging,
): Promise<Omit<RequestsPage, 'of'>> {
  const requests: JudgedBody[] = [];
  for await (const some of matchingRequests(knex, states, replay, filter, { after, limit: limit + 1 }))
    requests.push(...some);
  const page = requests.slice(0, limit);
  return { requests: page, next: requests.length > limit ? (page.at(-1)?.number ?? null) : null };
}

/** The requests that a filter selects, in the order of the log, some at a time: those of a chunk together. */
export async function* matchingRequests(
  knex: Knex,
  states: PreparedStates,
  replay: Replay,
  filter: RequestFilter,
  { after, limit }: Paging,
): AsyncGenerator<JudgedBody[]> {
  requireDone(replay);
  checkNames(replay, filter);
  const catalogue = await catalogueFor(states, replay, filter);
  let left = limit;
  const behind = chunksBehind(await placedChunks(knex, replay), after);
  const chunks = await chunksFor(knex, replay, behind, filter);
  const open = async (chunk: PlacedChunk) => {
    const { verdicts, table, unpacked } = await readChunk(knex, replay, chunk);
    const asked = { verdicts, table: asksForRequest(filter) ? table : undefined, catalogue };
    const rows = filterRows(asked, replay.slots, filter, Math.max(0, after - chunk.before), limit);
    if (rows.length > 0) await unpacked();
    return { chunk, verdicts, table, rows };
  };
  for await (const { chunk, verdicts, table, rows: found } of opened(chunks, open)) {
    const rows = found.slice(0, left);
    if (rows.length === 0) continue;
    const requests = new ChunkRows(table);
    left -= rows.length;
    for (let at = 0; at < rows.length; at += ROWS_AT_ONCE) {
      if (at > 0) await breathe();
      const some = rows.slice(at, at + ROWS_AT_ONCE);
      yield some.map((row) => judgedRequest({ chunk, requests, verdicts, slots: replay.slots }, row));
    }
    if (left <= 0) return;
  }
}

/** One request of a replay, as it was logged and judged. */
export async function findRequest(
  knex: Knex,
  replay: Replay,
  number: number,
): Promise<{ request: Request; client: Address | undefined; verdict: Verdict | 'uncovered' }> {
  const { row, verdicts, requests } = await openRow(knex, replay, number);
  return {
    request: requests.request(row),
    client: verdicts.clientAddress(row),
    verdict: verdicts.outcome(row)?.verdict ?? 'uncovered',
  };
}

/** One request of a replay with its explanation, by the workspace that the replay ran. */
export async function explainRequest(
  knex: Knex,
  states: PreparedStates,
  replay: Replay,
  number: number,
): Promise<Omit<ExplainedJudgedBody, 'of'>> {
  const { chunk, row, verdicts, requests } = await openRow(knex, replay, number);
  const judged = judgedRequest({ chunk, requests, verdicts, slots: replay.slots }, row);
  const prepared = await preparedFor(states, replay);
  const policy = judged.policy === null ? undefined : prepared.workspace.policies.get(judged.policy);
  const outcome = verdicts.outcome(row);
  const explanation =
    policy && outcome
      ? explain(
          policy,
          subjectOf(requests.request(row), policy, prepared),
          prepared,
          keptLimits(policy, outcome, replay.slots),
          await standingsOf(knex, { replay, policy, prepared, number, row, requests, verdicts }),
        )
      : null;
  return { ...judged, explanation };
}

/** The chunk that a request of a replay is in, opened, and its row there. */
async function openRow(
  knex: Knex,
  replay: Replay,
  number: number,
): Promise<Omit<OpenChunk, 'slots'> & { row: number }> {
  requireDone(replay);
  const chunks = await placedChunks(knex, replay);
  const [chunk] = number < 1 ? [] : chunksBehind(chunks, number - 1);
  if (chunk === undefined) {
    const last = chunks.at(-1);
    throw refusal('unknown-request', { number, last: last && last.before + last.rows });
  }
  const { verdicts, table } = await readChunk(knex, replay, chunk);
  return { chunk, verdicts, requests: new ChunkRows(table), row: number - 1 - chunk.before };
}

/** The workspace that a replay ran. */
async function preparedFor(states: PreparedStates, replay: Replay): Promise<Prepared> {
  return states.get(stateOf(replay));
}

const catalogues = new WeakMap<Prepared, Catalogue>();

/** Refuses names of categories and applications that the workspace does not have: they would look like an answer. */
export function requireCatalogued(prepared: Prepared, filter: LogFilter): void {
  for (const [kind, none] of [
    ['category', 'uncategorised'],
    ['application', 'unidentified'],
  ] as const) {
    const name = filter[kind];
    const known = [...(kind === 'category' ? prepared.categories : prepared.applications).keys(), none, 'unseen'];
    if (name !== undefined && !known.includes(name))
      throw notFound(kind, name, known, `The workspace has: ${known.join(', ')}.`);
  }
}

/** The catalogue of a workspace, which remembers what it was asked. */
/** The catalogue of a replay; undefined when the filter does not test it. */
export async function catalogueFor(
  states: PreparedStates,
  replay: Replay,
  filter: RequestFilter,
): Promise<Catalogue | undefined> {
  return asksForCatalogue(filter) ? catalogueOf(await preparedFor(states, replay), filter) : undefined;
}

function catalogueOf(prepared: Prepared, filter: RequestFilter): Catalogue {
  requireCatalogued(prepared, filter);
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
    // Headers of a log with chosen headers are exported as such, so that a later import does not take others for absent.
    ...(headers.size > 0 || allHeaders ? { [allHeaders ? 'headers' : 'some-headers']: headersBody(headers) } : {}),
  };
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) as RequestBody;
}

/** One value by itself, none or several as a list. */
const headersBody = (headers: Request['headers']): Record<string, string | readonly string[]> =>
  Object.fromEntries(
    [...headers].flatMap(([name, values]) =>
      values ? [[name, values.length === 1 ? (values[0] as string) : values]] : [],
    ),
  );

/** A chunk of a replay, opened. */
export interface OpenChunk {
  readonly chunk: PlacedChunk;
  readonly requests: ChunkRows;
  readonly verdicts: Verdicts;
  readonly slots: readonly Slot[];
}

/** One request of a chunk, with its outcome. */
export function judgedRequest({ chunk, requests, verdicts, slots }: OpenChunk, row: number): JudgedBody {
  const outcome = verdicts.outcome(row);
  const slot = outcome && slots[outcome.slot];
  return {
    number: chunk.before + row + 1,
    log: chunk.log,
    line: requests.line(row),
    request: requestBody(requests.request(row)),
    client: verdicts.client(row),
    country: verdicts.country(row),
    destinationCountry: verdicts.destinationCountry(row),
    verdict: outcome?.verdict ?? 'uncovered',
    policy: slot?.policy ?? null,
    rule: slot?.rule ?? null,
  };
}

/** Refuses a replay that has no result. */
export function requireDone(replay: Replay): void {
  if (replay.state === 'done') return;
  const { id, state, failure } = replay;
  throw state === 'failed' ? refusal('replay-failed', { id, failure }) : refusal(`replay-${state}`, { id });
}

/** Refuses policies and rules that the replay did not run: they would look like an answer. */
export function checkNames(replay: Replay, filter: RequestFilter): void {
  const policies = [...new Set(replay.slots.map((slot) => slot.policy))];
  if (filter.policy !== undefined && !policies.includes(filter.policy))
    throw notFound('policy', filter.policy, policies, `The replay ran: ${policies.join(', ') || 'no policy'}.`);
  if (filter.rule === undefined || namedSlots(replay.slots, filter).length > 0) return;
  const rules = replay.slots
    .filter((slot) => filter.policy === undefined || slot.policy === filter.policy)
    .map((slot) => slot.rule ?? 'default');
  throw notFound('rule', filter.rule, rules, `The replay ran: ${[...new Set(rules)].join(', ')}.`);
}
