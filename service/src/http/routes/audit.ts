import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { AuditBody, AuditVerdictBody } from '@jade-fence/contract';
import { stringify } from 'csv-stringify/sync';
import type { Knex } from 'knex';
import { type AuditFilter, note, pageOfAudit } from '../../audit/audit.js';
import { verifyAudit } from '../../audit/verify.js';
import type { Page } from '../../database/page.js';
import type { AuditEntry } from '../../model/audit-entry.js';
import type { Api } from '../api.js';
import { AuditHeadQuery, AuditQuery } from '../input/people-input.js';
import { instantOf } from '../instant.js';

const AT_ONCE = 1000;
const COLUMNS = ['id', 'at', 'actor', 'action', 'kind', 'name', 'detail'] as const;

/** Who did what, and when. */
export function auditRoutes(api: Api, knex: Knex): void {
  api.add(
    'GET /audit',
    { does: 'A page of the audit, the oldest first.', query: AuditQuery },
    async ({ query }, response) => {
      const { items, next } = await pageOfAudit(knex, filterOf(query), query);
      response.json({ entries: items.map(entryBody), next });
    },
  );

  api.add(
    'GET /audit/verify',
    {
      does: 'Recomputes the chain of the audit, and reports whether an entry was changed or is missing.',
      query: AuditHeadQuery,
    },
    async ({ query }, response) => {
      response.json((await verifyAudit(knex, query.head)) satisfies AuditVerdictBody);
    },
  );

  for (const { form, type, written } of FORMS)
    api.add(
      `GET /audit.${form}`,
      { does: `The audit as ${form}.`, query: AuditQuery, type },
      async ({ query, who }, response) => {
        await note(knex, [{ actor: who.name, action: 'exported', kind: 'audit', detail: { form } }]);
        response.type(type).attachment(`audit.${form}`);
        await pipeline(Readable.from(exported(knex, filterOf(query), written)), response);
      },
    );
}

const FORMS = [
  {
    form: 'jsonl',
    type: 'application/jsonl',
    written: (entries: readonly AuditBody[]) => entries.map((entry) => `${JSON.stringify(entry)}\n`).join(''),
  },
  {
    form: 'csv',
    type: 'text/csv; charset=utf-8',
    written: (entries: readonly AuditBody[], first: boolean) =>
      stringify(
        entries.map(({ detail, ...entry }) => ({ ...entry, detail: JSON.stringify(detail) })),
        { header: first, columns: [...COLUMNS], escape_formulas: true },
      ),
  },
] as const;

async function* exported(
  knex: Knex,
  filter: AuditFilter,
  written: (entries: readonly AuditBody[], first: boolean) => string,
): AsyncGenerator<string> {
  for (let after: number | null = 0; after !== null; ) {
    const { items, next }: Page<AuditEntry, number> = await pageOfAudit(knex, filter, { after, limit: AT_ONCE });
    yield written(items.map(entryBody), after === 0);
    after = next;
  }
}

function filterOf({ actor, action, kind, name, from, to }: AuditQuery): AuditFilter {
  return { actor, action, kind, name, from: from && instantOf(from), to: to && instantOf(to) } as AuditFilter;
}

function entryBody({ id, at, actor, action, kind, name, detail }: AuditEntry): AuditBody {
  return { id, at: at.toISOString(), actor, action, kind, name, detail };
}
