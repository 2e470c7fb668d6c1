import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type LogBody, pathOf } from '@jade-fence/contract';
import { isStorable, NO_REDACTION, STORED_FORMS, tryRedaction } from '@jade-fence/core/redact';
import type { Request } from 'express';
import type { Knex } from 'knex';
import type { Page } from '../../database/page.js';
import { refusal } from '../../fault/refusal.js';
import type { Imports } from '../../import/imports.js';
import { notIdle } from '../../import/not-idle.js';
import { findImport } from '../../import/store.js';
import { tooLarge } from '../../import/too-large.js';
import { mappingWithSaved } from '../../log/mappings.js';
import { deleteLog, findLog, pageOfLogs, rejectedLines, sameContent } from '../../log/store.js';
import type { RejectedLine, RequestLog } from '../../model/request-log.js';
import type { Api } from '../api.js';
import { ImportQuery, mappingOf } from '../input/log-input.js';
import { NamedPageQuery, PageQuery } from '../input/page-query.js';
import type { ProgressWatch } from '../progress.js';
import { importBody, importEnded } from './import-body.js';

export interface LogParts {
  readonly knex: Knex;
  readonly imports: Imports;
  readonly watch: ProgressWatch;
  readonly maxUpload: number;
  readonly uploadIdle: number;
}

/** Request logs: importing by a streamed upload, listing, rejected lines, deleting. */
export function logRoutes(api: Api, { knex, imports, watch, maxUpload, uploadIdle }: LogParts): void {
  const withSame = async (log: RequestLog) => ({ ...body(log), sameAs: await sameContent(knex, log) });

  api.add(
    'GET /logs',
    { does: 'The logs that are stored, by name.', query: NamedPageQuery },
    async ({ query }, response) => {
      const { items, next } = await pageOfLogs(knex, query);
      response.json({ logs: items.map(body), next });
    },
  );

  api.add(
    'POST /logs',
    {
      does: 'Imports a log, which is the body. With `Prefer: respond-async` it answers as soon as all of it is here.',
      query: ImportQuery,
      file: 'streamed',
      status: 201,
    },
    async ({ request, query, who }, response) => {
      const { name, format, redact = [] } = query;
      requireStorable(redact);
      const mapping = await mappingWithSaved(knex, mappingOf(query), query.mapping);
      if (query.format === 'text' && mapping.pattern === undefined) throw refusal('no-pattern');
      const size = Number(request.get('content-length') ?? Number.NaN);
      if (size > maxUpload) throw tooLarge(maxUpload);
      const order = { name, format, mapping, redact, actor: who.name, size: Number.isNaN(size) ? undefined : size };
      const { id } = await imports.order(order);
      const importAt = pathOf('GET /imports/:id', { params: { id } });
      // A client that asked before sending is asked to continue only now; and gets the import's link (RFC 8631).
      if (request.get('expect') !== undefined) {
        response.writeEarlyHints({ link: `<${importAt}>; rel="status"` });
        response.writeContinue();
      }
      const waits = !prefersAsync(request);
      await imports.receive(id, notIdle(request.iterator({ destroyOnReturn: false }), uploadIdle), waits);
      if (!waits) {
        response.status(202).location(importAt).set('preference-applied', 'respond-async');
        return response.json(importBody(await findImport(knex, id)));
      }
      await importEnded(knex, watch, id, response);
      const log = await findLog(knex, name);
      response
        .status(201)
        .location(pathOf('GET /logs/:name', { params: { name } }))
        .json(await withSame(log));
    },
  );

  api.add('GET /logs/:name', { does: 'One log.' }, async ({ params }, response) => {
    response.json(await withSame(await findLog(knex, params.name)));
  });

  api.add(
    'DELETE /logs/:name',
    { does: 'Deletes a log, and its replays.', status: 204 },
    async ({ params, who }, response) => {
      const log = await findLog(knex, params.name);
      await deleteLog(knex, log, who.name);
      response.status(204).end();
    },
  );

  api.add(
    'GET /logs/:name/rejected',
    { does: 'A page of the lines of a log that could not be read.', query: PageQuery },
    async ({ params, query }, response) => {
      const { items, next } = await rejectedLines(knex, await findLog(knex, params.name), query);
      response.json({ rejected: items.map(({ line, code, reason, text }) => ({ line, code, reason, text })), next });
    },
  );

  api.add(
    'GET /logs/:name/rejected.jsonl',
    { does: 'All lines of a log that could not be read, as JSON Lines.', type: 'application/jsonl' },
    async ({ params }, response) => {
      const log = await findLog(knex, params.name);
      response.type('application/jsonl').attachment(`${log.name}-rejected.jsonl`);
      await pipeline(Readable.from(rejectedFile(knex, log)), response);
    },
  );
}

/** What is stored is whole or not there; a part of a value would make rules decide by what is not so. */
function requireStorable(redact: readonly string[] = []): void {
  const not = redact.filter((word) => !isStorable(tryRedaction(word) ?? NO_REDACTION));
  if (not.length > 0) throw refusal('not-storable', { needed: not.join(', '), fields: STORED_FORMS.join(', ') });
}

/** Whether the caller would rather be answered at once than wait (RFC 7240, section 4.1). */
const prefersAsync = (request: Request): boolean =>
  /(?:^|[,;\s])respond-async(?:$|[,;\s])/i.test(request.get('prefer') ?? '');

const REJECTED_AT_ONCE = 1000;

/** All rejected lines that were kept, as JSON Lines. */
async function* rejectedFile(knex: Knex, log: RequestLog): AsyncGenerator<string> {
  for (let after: number | null = 0; after !== null; ) {
    const { items, next }: Page<RejectedLine, number> = await rejectedLines(knex, log, {
      after,
      limit: REJECTED_AT_ONCE,
    });
    yield items.map(({ line, code, reason, text }) => `${JSON.stringify({ line, code, reason, text })}\n`).join('');
    after = next;
  }
}

function body(log: RequestLog): LogBody {
  const { name, format, requests, lines, rejected, bytes, ignoredFields, unreadable, redacted, damagedFiles } = log;
  const [firstTime, lastTime] = [log.firstTime, log.lastTime].map((time) => time?.toISOString() ?? null) as [
    string | null,
    string | null,
  ];
  const looksWrong = rejected > requests;
  const importedAt = log.importedAt.toISOString();
  return {
    name,
    format,
    requests,
    lines,
    rejected,
    looksWrong,
    bytes,
    ignoredFields,
    unreadable: Object.entries(unreadable).map(([key, count]) => {
      const [field = key, reason = ''] = key.split(' ');
      return { field, reason, count };
    }),
    redacted,
    damagedFiles,
    firstTime,
    lastTime,
    importedAt,
  };
}
