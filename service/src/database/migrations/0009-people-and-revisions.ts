import type { Knex } from 'knex';

/** People with their tokens and sessions; the draft, what was published of it, and a trail of who did what. */
export async function up(knex: Knex): Promise<void> {
  await createPeople(knex);
  await createRevisions(knex);
  await createAudit(knex);
}

async function createPeople(knex: Knex): Promise<void> {
  await knex.schema.createTable('people', (table) => {
    table.increments('id');
    table.text('name').notNullable().unique();
    table.text('role').notNullable();
    // Null: signs in with tokens alone.
    table.text('password');
    table.boolean('disabled').notNullable().defaultTo(false);
    table.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.schema.createTable('tokens', (table) => {
    table.increments('id');
    table.integer('person_id').notNullable().references('people.id').onDelete('CASCADE');
    table.text('name').notNullable();
    table.text('hash').notNullable().unique();
    // What it may do at most; never more than its person.
    table.text('role').notNullable();
    table.timestamp('expires_at');
    table.timestamp('used_at');
    table.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    table.unique(['person_id', 'name']);
  });
  // The access key becomes a token of the first administrator.
  const keys = await knex('access_keys').select('hash').limit(1);
  if (keys.length > 0) {
    const [{ id }] = await knex('people').insert({ name: 'administrator', role: 'administrator' }).returning('id');
    await knex('tokens').insert({ person_id: id, name: 'access-key', hash: keys[0].hash, role: 'administrator' });
  }
  await knex.schema.dropTable('access_keys');
  await knex('sessions').delete();
  await knex.schema.alterTable('sessions', (table) => {
    table.integer('person_id').notNullable().references('people.id').onDelete('CASCADE');
  });
}

async function createRevisions(knex: Knex): Promise<void> {
  await knex.schema.alterTable('object_versions', (table) => {
    table.text('author');
  });
  // A list of a million entries is a text of tens of megabytes, which this packs several times faster, where it is built in.
  const { rows } = await knex.raw("select enumvals from pg_settings where name = 'default_toast_compression'");
  if (rows[0]?.enumvals.includes('lz4'))
    await knex.raw('alter table object_versions alter column text set compression lz4');
  await knex.schema.createTable('draft', (table) => {
    table.integer('id').primary().checkBetween([1, 1]);
    // Goes up with every change, so that whoever looked at one state does not publish another.
    table.integer('number').notNullable();
  });
  await knex('draft').insert({ id: 1, number: 0 });
  await knex.schema.createTable('revisions', (table) => {
    table.integer('number').primary();
    table.text('message').notNullable();
    table.text('author').notNullable();
    table.text('approved_by');
    table.jsonb('version_ids').notNullable();
    table.integer('country_data_id').references('country_data.id').onDelete('SET NULL');
    table.timestamp('published_at').notNullable().defaultTo(knex.fn.now());
  });
  // Some databases have it from a migration that was edited when it should not have been.
  const redacts = await knex.schema.hasColumn('replays', 'redactions');
  await knex.schema.alterTable('replays', (table) => {
    // Null: it ran the draft.
    table.integer('revision');
    // What each policy asked for when it ran.
    if (!redacts) table.jsonb('redactions').notNullable().defaultTo('{}');
  });
  await knex.schema.createTable('proposals', (table) => {
    table.increments('id');
    table.text('message').notNullable();
    table.text('author').notNullable();
    table.integer('draft').notNullable();
    table.text('state').notNullable();
    table.timestamp('proposed_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.schema.createTable('settings', (table) => {
    table.text('name').primary();
    table.jsonb('value').notNullable();
  });
}

/** Entries are added and never changed: the database itself refuses it. */
async function createAudit(knex: Knex): Promise<void> {
  await knex.schema.createTable('audit', (table) => {
    table.bigIncrements('id');
    table.timestamp('at').notNullable().defaultTo(knex.raw('clock_timestamp()'));
    // Null where nobody was known, as in a sign-in that failed.
    table.text('actor');
    table.text('action').notNullable();
    table.text('kind');
    table.text('name');
    table.jsonb('detail').notNullable().defaultTo('{}');
    table.index('actor');
    table.index(['kind', 'name']);
  });
  await knex.raw(`
    create function audit_is_kept() returns trigger language plpgsql as
    $$ begin raise exception 'entries of the audit are never changed'; end $$`);
  await knex.raw(
    'create trigger audit_is_kept before update or delete or truncate on audit execute function audit_is_kept()',
  );
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('sessions', (table) => table.dropColumns('person_id'));
  await knex.schema.alterTable('replays', (table) => table.dropColumns('revision', 'redactions'));
  await knex.schema.alterTable('object_versions', (table) => table.dropColumns('author'));
  for (const table of ['audit', 'settings', 'proposals', 'revisions', 'draft', 'tokens', 'people'])
    await knex.schema.dropTable(table);
  await knex.raw('drop function audit_is_kept()');
  await knex.schema.createTable('access_keys', (table) => {
    table.increments('id');
    table.text('hash').notNullable().unique();
    table.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });
}
