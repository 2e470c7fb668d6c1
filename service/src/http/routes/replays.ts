import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import {
  type EvidenceBody,
  type ExplainedJudgedBody,
  type FallBody,
  type JudgedBody,
  pathOf,
  type RequestsPage,
  type SumBody,
} from '@jade-fence/contract';
import { filterFaults, type LogFilter, type RequestFilter } from '@jade-fence/core/replay';
import { reportHtml, reportMarkdown } from '@jade-fence/report';
import type { Knex } from 'knex';
import { note } from '../../audit/audit.js';
import { refusal } from '../../fault/refusal.js';
import { findLog } from '../../log/store.js';
import type { Replay } from '../../model/replay.js';
import type { Redactions } from '../../redaction/redactions.js';
import type { ReplayRedactor } from '../../redaction/replay-redactor.js';
import { evidenceOf, sumOf } from '../../replay/evidence.js';
import { EXPORT_TYPES, exported } from '../../replay/export/export.js';
import { fallOf } from '../../replay/fall.js';
import { explainRequest, matchingRequests, pageRequests, requireDone } from '../../replay/requests.js';
import type { ReplayRunner } from '../../replay/runner.js';
import { deleteReplay, findReplay, pageOfReplays } from '../../replay/store.js';
import { storedReport } from '../../replay/stored-report.js';
import { revisionNamed } from '../../revision/store.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import type { Api } from '../api.js';
import { RedactQuery } from '../input/redact-input.js';
import {
  EvidenceQuery,
  ExportQuery,
  FilterQuery,
  type OnlyInput,
  ReplayInput,
  ReplaysQuery,
  RequestsQuery,
} from '../input/replay-input.js';
import { instantOf } from '../instant.js';
import { numberOf } from '../number-of.js';
import { type ProgressWatch, streamProgress } from '../progress.js';
import { invalidInput } from '../validate.js';
import { ofReplay, replayBodies, replayBodyOf } from './replay-body.js';

export interface ReplayParts {
  readonly knex: Knex;
  readonly states: PreparedStates;
  readonly runner: ReplayRunner;
  readonly watch: ProgressWatch;
  readonly redactions: Redactions;
}

/** So large may the files be that a replay is to judge by. */
const LARGEST_BODY = '64mb';

/** Replays: starting, watching, cancelling; their reports, requests and explanations. */
export function replayRoutes(api: Api, { knex, states, runner, watch, redactions }: ReplayParts): void {
  const shown = (replay: Replay) => replayBodyOf(knex, replay);
  const reportOf = async (replay: Replay, redact: readonly string[] | undefined) =>
    (await redactions.of(replay, redact)).report(storedReport(replay));
  const replayOf = (params: { readonly id: string }) => findReplay(knex, numberOf(params.id, 'replay'));

  api.add(
    'GET /replays',
    {
      does: 'Replays that people ordered, the newest first: all, those of a log, or your own.',
      query: ReplaysQuery,
    },
    async ({ query, who }, response) => {
      const { log, state, mine, ...page } = query;
      const { items, next } = await pageOfReplays(knex, { log, state, by: mine ? who.name : undefined }, page);
      response.json({ replays: await replayBodies(knex, items), next });
    },
  );

  api.add(
    'POST /replays',
    { does: 'Orders a replay.', body: ReplayInput, largest: LARGEST_BODY, status: 202 },
    async ({ body, who }, response) => {
      const { log, logs, state, policy, at, only, files, purpose } = body;
      if (purpose === 'effect') requireWorkspace(body);
      const found = await Promise.all(logsOf(log, logs).map((name) => findLog(knex, name)));
      const replay = await runner.order({
        logs: found,
        revision: await revisionNamed(knex, state),
        policy,
        only: only && onlyOf(only),
        files: files ?? [],
        at: instantOf(at),
        purpose,
        by: who.name,
      });
      const detail = { logs: found.map(({ name }) => name), state: state ?? 'draft' };
      // Effects are ordered by the console at each edit, and the edits are noted.
      if (purpose === 'asked')
        await note(knex, [
          { actor: who.name, action: 'replay-ordered', kind: 'replay', name: String(replay.id), detail },
        ]);
      response
        .status(202)
        .location(pathOf('GET /replays/:id', { params: { id: replay.id } }))
        .json(await shown(replay));
    },
  );

  api.add('GET /replays/:id', { does: 'One replay.' }, async ({ params }, response) => {
    response.json(await shown(await replayOf(params)));
  });

  api.add(
    'DELETE /replays/:id',
    { does: 'Deletes a replay that has ended, with its verdicts and its report.', status: 204 },
    async ({ params, who }, response) => {
      await deleteReplay(knex, await replayOf(params), who.name);
      response.status(204).end();
    },
  );

  api.add(
    'GET /replays/:id/progress',
    {
      does: 'The progress of a replay as server-sent events, until it ends.',
      type: 'text/event-stream',
    },
    async ({ params }, response) => {
      const { id } = await replayOf(params);
      await streamProgress(response, watch, { kind: 'replay', id }, async () => shown(await findReplay(knex, id)));
    },
  );

  api.add('POST /replays/:id/cancel', { does: 'Asks a replay to stop.' }, async ({ params, who }, response) => {
    const replay = await replayOf(params);
    await runner.cancel(replay.id);
    await note(knex, [{ actor: who.name, action: 'replay-cancelled', kind: 'replay', name: String(replay.id) }]);
    response.json(await shown(await findReplay(knex, replay.id)));
  });

  api.add(
    'GET /replays/:id/report',
    { does: 'The report of a replay.', query: RedactQuery },
    async ({ params, query }, response) => {
      const { redact } = query;
      const replay = await replayOf(params);
      requireDone(replay);
      response.json(await reportOf(replay, redact));
    },
  );

  for (const { end, type, page } of PAGES)
    api.add(
      `GET /replays/:id/report.${end}`,
      { does: `The report of a replay as ${end}.`, query: RedactQuery, type },
      async ({ params, query }, response) => {
        const { redact } = query;
        const replay = await replayOf(params);
        requireDone(replay);
        const body = await shown(replay);
        const facts = { replay: replay.id, log: body.logs.join(', '), notes: body.notes };
        const text = page(await reportOf(replay, redact), facts);
        response.type(type).attachment(`replay-${replay.id}.${end}`).send(text);
      },
    );

  api.add(
    'GET /replays/:id/requests',
    { does: 'A page of the requests of a replay.', query: RequestsQuery },
    async ({ params, query, who }, response) => {
      const { after = 0, limit, redact, ...asked } = query;
      const asks = filterOf(asked);
      const replay = await replayOf(params);
      const filter = await redactions.meant(replay, asks, who);
      const page = await pageRequests(knex, states, replay, filter, { after, limit });
      const redactor = await redactions.of(replay, redact);
      const requests = page.requests.map((each) => redactor.request(each));
      response.json({ of: await ofReplay(knex, replay), ...page, requests } satisfies RequestsPage);
    },
  );

  api.add(
    'GET /replays/:id/fall',
    {
      does: 'How the requests that a filter selects pass through the rules, in the figures of a report.',
      query: FilterQuery,
    },
    async ({ params, query, who }, response) => {
      const { redact: _, ...asked } = query;
      const replay = await replayOf(params);
      const fall = await fallOf(knex, states, replay, await redactions.meant(replay, filterOf(asked), who));
      response.json({ of: await ofReplay(knex, replay), ...fall } satisfies FallBody);
    },
  );

  api.add(
    'GET /replays/:id/sum',
    {
      does: 'What the requests are that a filter selects: counted by client, host, path, status and so on, and some that differ.',
      query: FilterQuery,
    },
    async ({ params, query, who }, response) => {
      const { redact, ...asked } = query;
      const replay = await replayOf(params);
      const sum = await sumOf(knex, states, replay, await redactions.meant(replay, filterOf(asked), who));
      const redactor = await redactions.of(replay, redact);
      response.json({ of: await ofReplay(knex, replay), ...redactor.sum(sum) } satisfies SumBody);
    },
  );

  api.add(
    'GET /replays/:id/evidence',
    { does: 'What the requests of one rule are.', query: EvidenceQuery },
    async ({ params, query }, response) => {
      const { policy, rule, role, redact } = query;
      const replay = await replayOf(params);
      const evidence = await evidenceOf(knex, states, replay, { policy, rule, role });
      const redactor = await redactions.of(replay, redact);
      response.json({ of: await ofReplay(knex, replay), ...redactor.evidence(evidence) } satisfies EvidenceBody);
    },
  );

  api.add(
    'GET /replays/:id/export',
    {
      does: 'The requests of a replay as a file.',
      query: ExportQuery,
      type: 'application/octet-stream',
    },
    async ({ params, query, who }, response) => {
      const { form, redact, ...asked } = query;
      const replay = await replayOf(params);
      const redactor = await redactions.of(replay, redact);
      const filter = await redactions.meant(replay, filterOf(asked), who);
      const found = redacted(matchingRequests(knex, states, replay, filter, ALL), redactor);
      // Errors in the query are reported before the file begins.
      const first = await found.next();
      const detail = { form, redact: redact ?? [] };
      await note(knex, [{ actor: who.name, action: 'exported', kind: 'replay', name: String(replay.id), detail }]);
      response.type(EXPORT_TYPES[form]).attachment(`replay-${replay.id}.${form}`);
      await pipeline(Readable.from(exported(form, chained(first, found))), response);
    },
  );

  api.add(
    'GET /replays/:id/requests/:number',
    { does: 'One request of a replay, explained.', query: RedactQuery },
    async ({ params, query }, response) => {
      const { redact } = query;
      const number = numberOf(params.number, 'request');
      const replay = await replayOf(params);
      const explained = await explainRequest(knex, states, replay, number);
      const redactor = await redactions.of(replay, redact);
      response.json({ of: await ofReplay(knex, replay), ...redactor.request(explained) } satisfies ExplainedJudgedBody);
    },
  );
}

const timeOf = (text: string | undefined): number | undefined => (text === undefined ? undefined : Date.parse(text));

/** The forms that a report has for people to pass on. */
const PAGES = [
  { end: 'md', type: 'text/markdown; charset=utf-8', page: reportMarkdown },
  { end: 'html', type: 'text/html; charset=utf-8', page: reportHtml },
] as const;

const ALL = { after: 0, limit: Number.POSITIVE_INFINITY };

async function* redacted(
  requests: AsyncIterable<JudgedBody[]>,
  redactor: ReplayRedactor,
): AsyncGenerator<JudgedBody[]> {
  for await (const some of requests) yield some.map((each) => redactor.request(each));
}

async function* chained<T>(first: IteratorResult<T>, rest: AsyncIterable<T>): AsyncGenerator<T> {
  if (first.done) return;
  yield first.value;
  yield* rest;
}

/** The filter of a query; reports all its faults at once. */
function filterOf({ from, to, ...asked }: Omit<FilterQuery, 'redact'>): RequestFilter {
  const filter = { ...asked, from: timeOf(from), to: timeOf(to) };
  if (filter.role !== undefined && filter.rule === undefined) throw refusal('role-without-rule');
  const faults = filterFaults(filter);
  if (faults.length > 0)
    throw invalidInput(
      'filter',
      faults.map(({ field, what }) => ({ path: field, what: `\`${filter[field]}\` ${what}` })),
    );
  return filter;
}

/** One log or several; not both, and not neither. */
function logsOf(log: string | undefined, logs: readonly string[] | undefined): readonly string[] {
  if ((log === undefined) !== (logs === undefined)) return logs ?? [log as string];
  throw refusal('which-log');
}

/** An effect is by a state of the workspace alone: order any other replay, which is kept. */
function requireWorkspace({ policy, files }: ReplayInput): void {
  if (policy === undefined && (files ?? []).length === 0) return;
  throw refusal('effect-of-trial');
}

/** Which requests a replay is of; times are validated already. */
function onlyOf({ from, to, ...asked }: OnlyInput): LogFilter {
  const { from: _, to: __, ...filter } = filterOf(asked);
  return { ...filter, ...(from && { from: timeOf(from) }), ...(to && { to: timeOf(to) }) };
}
