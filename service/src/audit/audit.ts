import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { AuditEntry } from '../model/audit-entry.js';

/** Everything that is noted. */
export const AUDITED = [
  ...(['signed-in', 'sign-in-failed', 'signed-out', 'password-changed'] as const),
  ...(['object-added', 'object-changed', 'object-removed', 'object-discarded', 'object-restored'] as const),
  ...(['country-data-loaded', 'country-data-restored', 'proposed', 'withdrawn', 'published'] as const),
  ...([
    'person-added',
    'person-changed',
    'person-removed',
    'token-made',
    'token-deleted',
    'passcode-set',
    'passcode-given',
    'passcode-wrong',
    'grants-ended',
    'setting-changed',
  ] as const),
  ...([
    'replay-ordered',
    'replay-cancelled',
    'import-cancelled',
    'exported',
    'access-key-made',
    'address-asked',
  ] as const),
  ...(['resolutions-loaded', 'resolve-ordered', 'resolve-cancelled'] as const),
  ...(['log-imported', 'log-deleted', 'replay-deleted', 'feed-set', 'feed-deleted'] as const),
] as const;
export type Audited = (typeof AUDITED)[number];

export interface Deed {
  readonly actor: string | null;
  readonly action: Audited;
  /** What it was done to. */
  readonly kind?: string;
  readonly name?: string;
  readonly detail?: Readonly<Record<string, unknown>>;
}

/** What changes the draft, or what its rules mean. */
const EDITING = [
  ...(['object-added', 'object-changed', 'object-removed', 'object-discarded', 'object-restored'] as const),
  ...(['country-data-loaded', 'country-data-restored', 'passcode-set'] as const),
] as const satisfies readonly Audited[];

/** Which edits are looked for. */
export interface EditsAsked {
  /** Undefined: since the beginning. */
  readonly since: Date | undefined;
  /** Of this object alone; undefined: of everything. */
  readonly of?: { readonly kind: string; readonly name: string };
  /** Those alone; undefined: all that edits. */
  readonly action?: Audited;
}

/** Who has edited. */
export async function editorsSince(knex: Knex, { since, of, action }: EditsAsked): Promise<readonly string[]> {
  const edits = AuditEntry.query(knex)
    .whereIn('action', action ? [action] : [...EDITING])
    .whereNotNull('actor')
    .distinct('actor');
  if (since) edits.where('at', '>', since);
  if (of) edits.where({ kind: of.kind, name: of.name });
  return (await edits).map(({ actor }) => actor as string);
}

/** Notes what was done; in the transaction that does it, so that neither is there without the other. */
export async function note(knex: Knex, deeds: readonly Deed[]): Promise<void> {
  if (deeds.length === 0) return;
  const entries = deeds.map(({ actor, action, kind = null, name = null, detail = {} }) => ({
    ...{ actor, action, kind, name },
    detail: JSON.stringify(detail),
  }));
  await knex('audit').insert(entries);
}

/** Does something and notes it, or neither. */
export async function noting<T>(knex: Knex, deed: Deed, work: (trx: Knex.Transaction) => Promise<T>): Promise<T> {
  return knex.transaction(async (trx) => {
    const done = await work(trx);
    await note(trx, [deed]);
    return done;
  });
}

export interface AuditFilter {
  readonly actor?: string | undefined;
  readonly action?: Audited | undefined;
  readonly kind?: string | undefined;
  readonly name?: string | undefined;
  readonly from?: Date | undefined;
  readonly to?: Date | undefined;
}

/** The oldest entries first. */
export function pageOfAudit(
  knex: Knex,
  { from, to, ...equal }: AuditFilter,
  page: PageAsked<number>,
): Promise<Page<AuditEntry, number>> {
  const entries = AuditEntry.query(knex);
  for (const [field, value] of Object.entries(equal)) if (value !== undefined) entries.where(field, value);
  if (from) entries.where('at', '>=', from);
  if (to) entries.where('at', '<', to);
  return pageOf(entries, 'id', 'asc', page);
}
