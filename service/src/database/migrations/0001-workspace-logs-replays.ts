import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('objects', (table) => {
    table.increments('id');
    table.text('kind').notNullable();
    table.text('name').notNullable();
    // Null where the object has been removed; its versions stay, for the replays that ran them.
    table.integer('current_version_id');
    table.unique(['kind', 'name']);
  });
  await knex.schema.createTable('object_versions', (table) => {
    table.increments('id');
    table.integer('object_id').notNullable().references('objects.id').onDelete('CASCADE');
    table.integer('number').notNullable();
    table.text('file').notNullable();
    table.text('text').notNullable();
    table.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    table.unique(['object_id', 'number']);
  });
  await knex.schema.createTable('country_data', (table) => {
    table.increments('id');
    table.text('source').notNullable();
    table.date('date').notNullable();
    table.integer('networks').notNullable();
    table.jsonb('faults').notNullable();
    table.integer('fault_count').notNullable();
    table.binary('data').notNullable();
    table.timestamp('loaded_at').notNullable().defaultTo(knex.fn.now());
  });
  await createLogTables(knex);
  await createReplayTables(knex);
  await knex.schema.createTable('access_keys', (table) => {
    table.increments('id');
    table.text('hash').notNullable().unique();
    table.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.schema.createTable('sessions', (table) => {
    table.text('hash').primary();
    table.timestamp('expires_at').notNullable();
  });
}

async function createLogTables(knex: Knex): Promise<void> {
  await knex.schema.createTable('logs', (table) => {
    table.increments('id');
    table.text('name').notNullable().unique();
    table.text('format').notNullable();
    table.integer('requests').notNullable();
    table.integer('lines').notNullable();
    table.integer('rejected').notNullable();
    table.bigInteger('bytes').notNullable();
    table.text('content_hash').notNullable();
    table.jsonb('ignored_fields').notNullable();
    table.timestamp('first_time');
    table.timestamp('last_time');
    table.timestamp('imported_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.schema.createTable('log_chunks', (table) => {
    table.integer('log_id').notNullable().references('logs.id').onDelete('CASCADE');
    table.integer('number').notNullable();
    table.integer('rows').notNullable();
    table.binary('data').notNullable();
    table.primary(['log_id', 'number']);
  });
  await knex.schema.createTable('rejected_lines', (table) => {
    table.integer('log_id').notNullable().references('logs.id').onDelete('CASCADE');
    table.integer('line').notNullable();
    table.text('code').notNullable();
    table.text('reason').notNullable();
    table.text('text').notNullable();
    table.primary(['log_id', 'line']);
  });
}

async function createReplayTables(knex: Knex): Promise<void> {
  await knex.schema.createTable('replays', (table) => {
    table.increments('id');
    table.integer('log_id').notNullable().references('logs.id').onDelete('CASCADE');
    table.text('policy');
    table.text('state').notNullable();
    table.integer('done').notNullable().defaultTo(0);
    table.integer('total').notNullable();
    table.text('failure');
    table.jsonb('version_ids').notNullable();
    table.integer('country_data_id').references('country_data.id').onDelete('SET NULL');
    table.timestamp('judged_at').notNullable();
    table.jsonb('slots').notNullable();
    // Text, not jsonb: the same log and workspace must give the same bytes.
    table.text('report');
    table.timestamp('started_at').notNullable().defaultTo(knex.fn.now());
    table.timestamp('touched_at').notNullable().defaultTo(knex.fn.now());
    table.timestamp('finished_at');
    table.index('log_id');
  });
  await knex.schema.createTable('replay_chunks', (table) => {
    table.integer('replay_id').notNullable().references('replays.id').onDelete('CASCADE');
    table.integer('number').notNullable();
    table.binary('data').notNullable();
    table.primary(['replay_id', 'number']);
  });
}

export async function down(knex: Knex): Promise<void> {
  const tables = ['replay_chunks', 'replays', 'rejected_lines', 'log_chunks', 'logs', 'country_data'];
  for (const table of [...tables, 'object_versions', 'objects', 'sessions', 'access_keys'])
    await knex.schema.dropTable(table);
}
