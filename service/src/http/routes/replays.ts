import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { filterFaults, type Report, type RequestFilter, reportHtml, reportMarkdown } from '@jade-fence/core';
import { json, Router } from 'express';
import type { Knex } from 'knex';
import { findLog } from '../../log/store.js';
import type { Replay } from '../../model/replay.js';
import { RequestLog } from '../../model/request-log.js';
import { evidenceOf } from '../../replay/evidence.js';
import { EXPORT_TYPES, exported } from '../../replay/export/export.js';
import { explainRequest, matchingRequests, pageRequests, requireDone } from '../../replay/requests.js';
import type { ReplayRunner } from '../../replay/runner.js';
import { allReplays, findReplay } from '../../replay/store.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import type { ReplayBody } from '../bodies.js';
import {
  EvidenceQuery,
  ExportQuery,
  type FilterQuery,
  ReplayInput,
  ReplaysQuery,
  RequestsQuery,
} from '../input/replay-input.js';
import { instantOf } from '../instant.js';
import { numberOf } from '../number-of.js';
import { Problem } from '../problem.js';
import { validated } from '../validate.js';

/** Replays: starting, watching, cancelling; their reports, requests and explanations. */
export function replayRoutes(knex: Knex, states: PreparedStates, runner: ReplayRunner): Router {
  const router = Router();
  const replayOf = (params: { readonly id: string }) => findReplay(knex, numberOf(params.id, 'replay'));

  router.get('/replays', async (request, response) => {
    const { limit } = validated(ReplaysQuery, request.query, 'query');
    const replays = await allReplays(knex, limit);
    const names = await logNames(knex, replays);
    response.json({ replays: replays.map((replay) => body(replay, names)) });
  });

  router.post('/replays', json({ limit: '16kb' }), async (request, response) => {
    const { log, policy, at } = validated(ReplayInput, request.body, 'body');
    const found = await findLog(knex, log);
    const replay = await runner.start({ log: found, policy, at: instantOf(at) });
    response
      .status(202)
      .location(`/api/replays/${replay.id}`)
      .json(body(await findReplay(knex, replay.id), new Map([[found.id, found.name]])));
  });

  router.get('/replays/:id', async (request, response) => {
    const replay = await replayOf(request.params);
    response.json(body(replay, await logNames(knex, [replay])));
  });

  router.post('/replays/:id/cancel', async (request, response) => {
    const replay = await replayOf(request.params);
    await runner.cancel(replay.id);
    const after = await findReplay(knex, replay.id);
    response.json(body(after, await logNames(knex, [after])));
  });

  router.get('/replays/:id/report', async (request, response) => {
    const replay = await replayOf(request.params);
    requireDone(replay);
    response.type('application/json').send(replay.report);
  });

  for (const { end, type, page } of PAGES)
    router.get(`/replays/:id/report.${end}`, async (request, response) => {
      const replay = await replayOf(request.params as { id: string });
      requireDone(replay);
      const log = (await logNames(knex, [replay])).get(replay.logId) ?? 'deleted';
      const text = page(JSON.parse(replay.report ?? '{}') as Report, { replay: replay.id, log });
      response.type(type).attachment(`replay-${replay.id}.${end}`).send(text);
    });

  router.get('/replays/:id/requests', async (request, response) => {
    const { after, limit, ...asked } = validated(RequestsQuery, request.query, 'query');
    const filter = filterOf(asked);
    response.json(await pageRequests(knex, states, await replayOf(request.params), filter, { after, limit }));
  });

  router.get('/replays/:id/evidence', async (request, response) => {
    const { policy, rule, role } = validated(EvidenceQuery, request.query, 'query');
    response.json(await evidenceOf(knex, states, await replayOf(request.params), { policy, rule, role }));
  });

  router.get('/replays/:id/export', async (request, response) => {
    const { form, ...asked } = validated(ExportQuery, request.query, 'query');
    const replay = await replayOf(request.params);
    const found = matchingRequests(knex, states, replay, filterOf(asked), ALL);
    // What is wrong with the question is told before the file begins.
    const first = await found.next();
    response.type(EXPORT_TYPES[form]).attachment(`replay-${replay.id}.${form}`);
    await pipeline(Readable.from(exported(form, chained(first, found))), response);
  });

  router.get('/replays/:id/requests/:number', async (request, response) => {
    const number = numberOf(request.params.number, 'request');
    response.json(await explainRequest(knex, states, await replayOf(request.params), number));
  });
  return router;
}

const timeOf = (text: string | undefined): number | undefined => (text === undefined ? undefined : Date.parse(text));

/** The forms that a report has for people to pass on. */
const PAGES = [
  { end: 'md', type: 'text/markdown; charset=utf-8', page: reportMarkdown },
  { end: 'html', type: 'text/html; charset=utf-8', page: reportHtml },
] as const;

const ALL = { after: 0, limit: Number.POSITIVE_INFINITY };

async function* chained<T>(first: IteratorResult<T>, rest: AsyncIterable<T>): AsyncGenerator<T> {
  if (first.done) return;
  yield first.value;
  yield* rest;
}

/** The filter that a query asks for; everything that is wrong with it is told at once. */
function filterOf({ from, to, ...asked }: FilterQuery): RequestFilter {
  const filter = { ...asked, from: timeOf(from), to: timeOf(to) };
  if (filter.role !== undefined && filter.rule === undefined)
    throw new Problem(400, 'role-without-rule', '`role` tells what a rule did, so it needs `rule`.');
  const faults = filterFaults(filter);
  if (faults.length > 0)
    throw new Problem(400, 'invalid-input', 'The query does not hold.', {
      issues: faults.map(({ field, what }) => ({ path: field, what: `\`${filter[field]}\` ${what}` })),
    });
  return filter;
}

async function logNames(knex: Knex, replays: readonly Replay[]): Promise<Map<number, string>> {
  const ids = [...new Set(replays.map((replay) => replay.logId))];
  const logs = await RequestLog.query(knex).whereIn('id', ids).select('id', 'name');
  return new Map(logs.map((log) => [log.id, log.name]));
}

function body(replay: Replay, names: ReadonlyMap<number, string>): ReplayBody {
  const { id, policy, state, done, total, failure, judgedAt, startedAt, finishedAt } = replay;
  const times = {
    judgedAt: judgedAt.toISOString(),
    startedAt: startedAt.toISOString(),
    finishedAt: finishedAt?.toISOString() ?? null,
  };
  return { id, log: names.get(replay.logId) ?? null, policy, state, done, total, failure, ...times };
}
