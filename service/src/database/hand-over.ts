import type { Knex } from 'knex';

/** The tables and functions of the audit, which belong to whoever made the database and not to the service. */
const AUDIT_TABLES = ['audit', 'audit_head'];
/** What is made and brought up to date by the owner alone. */
const OWN_TABLES = ['knex_migrations', 'knex_migrations_lock'];
const KEPT_FUNCTIONS = ['audit_is_kept', 'audit_chain', 'audit_content'];

/**
 * Gives everything but the audit to the role that the service runs as, which may add to the audit and read it, and do
 * nothing else with it. To be called by the owner of the tables, after they were brought up to date.
 */
export async function handOver(owner: Knex, role: string): Promise<void> {
  await owner.transaction(async (trx) => {
    const { rows } = await trx.raw(
      `select format('alter table public.%I owner to %I', c.relname, ?::text) as statement
       from pg_class c join pg_namespace n on n.oid = c.relnamespace
       where n.nspname = 'public' and c.relkind = 'r' and c.relname <> all(?)
         and c.relowner <> (select oid from pg_roles where rolname = ?)`,
      [role, [...AUDIT_TABLES, ...OWN_TABLES], role],
    );
    for (const { statement } of rows as { statement: string }[]) await trx.raw(statement);
    await trx.raw('grant usage, create on schema public to ??', [role]);
    for (const table of AUDIT_TABLES) await trx.raw('revoke all on ?? from ??', [table, role]);
    await trx.raw('grant select, insert on audit to ??', [role]);
    await trx.raw('grant select on audit_head to ??', [role]);
    await trx.raw('grant usage on sequence audit_id_seq to ??', [role]);
    for (const name of KEPT_FUNCTIONS) await trx.raw(`grant execute on function ${name} to ??`, [role]);
    const [{ database }] = (await trx.raw('select current_database() as database')).rows as [{ database: string }];
    await trx.raw('grant create on database ?? to ??', [database, role]);
    await giveSchema(trx, QUEUE_SCHEMA, role);
  });
}

const QUEUE_SCHEMA = 'jade_fence_jobs';

/** The queue's own schema, where an earlier version of the service made it. */
async function giveSchema(trx: Knex.Transaction, schema: string, role: string): Promise<void> {
  const { rows } = await trx.raw(
    `select format('alter schema %I owner to %I', nspname, ?::text) as statement from pg_namespace where nspname = ?
     union all
     select format('alter %s %I.%I owner to %I', case relkind when 'S' then 'sequence' else 'table' end, nspname, relname, ?::text)
     from pg_class join pg_namespace n on n.oid = relnamespace
     where nspname = ? and relkind in ('r', 'p')
     union all
     select format('alter function %s owner to %I', p.oid::regprocedure, ?::text)
     from pg_proc p join pg_namespace n on n.oid = pronamespace where nspname = ?
     union all
     select format('alter type %I.%I owner to %I', nspname, typname, ?::text)
     from pg_type t join pg_namespace n on n.oid = typnamespace where nspname = ? and typtype = 'e'`,
    [role, schema, role, schema, role, schema, role, schema],
  );
  for (const { statement } of rows as { statement: string }[]) await trx.raw(statement);
}
