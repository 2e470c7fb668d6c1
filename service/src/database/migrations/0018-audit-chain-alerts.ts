import type { Knex } from 'knex';

/** Entries of the audit are chained, so that a removed one is noticed; alerts wait in the database until they are taken. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('audit', (table) => {
    // SHA-256 of the entry before and this one.
    table.binary('hash');
  });
  // How many entries there are, and the hash of the last: what is cut off at the end is missed by these.
  await knex.schema.createTable('audit_head', (table) => {
    table.integer('id').primary().checkBetween([1, 1]);
    table.bigInteger('entries').notNullable();
    table.binary('hash').notNullable();
  });
  await knex('audit_head').insert({ id: 1, entries: 0, hash: Buffer.alloc(0) });
  await knex.raw(CONTENT);
  await knex.raw('alter table audit disable trigger audit_is_kept');
  await knex.raw(CHAIN_OLD);
  await knex.raw('alter table audit enable trigger audit_is_kept');
  await knex.raw('alter table audit alter column hash set not null');
  await knex.raw('alter table audit alter column id drop default');
  await knex.raw(CHAIN);
  await knex.raw('create trigger audit_is_chained before insert on audit for each row execute function audit_chain()');
  for (const jobs of ['replays', 'imports'])
    await knex.schema.alterTable(jobs, (table) => {
      table.integer('tries').notNullable().defaultTo(0);
      table.timestamp('lease_until');
    });
  await knex.schema.createTable('alerts', (table) => {
    table.bigIncrements('id');
    table.jsonb('body').notNullable();
    table.integer('attempts').notNullable().defaultTo(0);
    table.timestamp('raised_at').notNullable().defaultTo(knex.fn.now());
    table.timestamp('next_at').notNullable().defaultTo(knex.fn.now());
    table.index('next_at');
  });
}

/** What of an entry is hashed, each part behind its length, so that none passes for another. */
const CONTENT = `
  create function audit_content(entry audit) returns bytea language sql immutable as $$
    select convert_to(string_agg(coalesce(length(part)::text || ':' || part, '-'), '' order by place), 'UTF8')
    from unnest(array[entry.id::text, extract(epoch from entry.at)::text, entry.actor, entry.action, entry.kind,
      entry.name, entry.detail::text]) with ordinality as parts(part, place)
  $$`;

/** One entry at a time: the number is given inside the lock, so that entries stand in the order of the chain, without gaps. */
const CHAIN = `
  create function audit_chain() returns trigger language plpgsql security definer set search_path = public, pg_temp as $$
  declare last bytea;
  begin
    select hash into last from audit_head where id = 1 for update;
    new.id := (select coalesce(max(id), 0) + 1 from audit);
    new.at := clock_timestamp();
    new.hash := sha256(last || audit_content(new));
    update audit_head set entries = entries + 1, hash = new.hash where id = 1;
    return new;
  end $$`;

const CHAIN_OLD = `
  do $$
  declare last bytea := ''; entry audit;
  begin
    for entry in select * from audit order by id loop
      last := sha256(last || audit_content(entry));
      update audit set hash = last where id = entry.id;
    end loop;
    update audit_head set entries = (select count(*) from audit), hash = last where id = 1;
  end $$`;

export async function down(knex: Knex): Promise<void> {
  for (const jobs of ['replays', 'imports'])
    await knex.schema.alterTable(jobs, (table) => table.dropColumns('tries', 'lease_until'));
  await knex.schema.dropTable('alerts');
  await knex.raw('drop trigger audit_is_chained on audit');
  await knex.raw('drop function audit_chain()');
  await knex.raw("alter table audit alter column id set default nextval(pg_get_serial_sequence('audit', 'id'))");
  await knex.raw("select setval(pg_get_serial_sequence('audit', 'id'), (select coalesce(max(id), 1) from audit))");
  await knex.raw('drop function audit_content(audit)');
  await knex.schema.dropTable('audit_head');
  await knex.schema.alterTable('audit', (table) => table.dropColumn('hash'));
}
