import type { Knex } from 'knex';

/** Imports become jobs, too: what is sent is kept in pieces until it is read, by whichever service takes it. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('imports', (table) => {
    table.increments('id');
    table.text('name').notNullable();
    table.text('format');
    table.jsonb('mapping');
    table.jsonb('redact').notNullable();
    table.text('actor').notNullable();
    // What the sender announced, what is here, and whether that is all of it.
    table.bigInteger('size');
    table.bigInteger('received').notNullable().defaultTo(0);
    table.integer('pieces').notNullable().defaultTo(0);
    table.boolean('held').notNullable().defaultTo(false);
    table.text('received_by').notNullable();
    table.text('state').notNullable();
    table.bigInteger('done').notNullable().defaultTo(0);
    table.jsonb('failure');
    table.integer('log_id').references('logs.id').onDelete('CASCADE');
    table.uuid('job_id');
    table.integer('attempt').notNullable().defaultTo(0);
    table.text('run_by');
    table.timestamp('begun_at');
    table.timestamp('started_at').notNullable().defaultTo(knex.fn.now());
    table.timestamp('touched_at').notNullable().defaultTo(knex.fn.now());
    table.timestamp('finished_at');
    table.index('log_id');
  });
  // A name is taken as soon as a log of it is on its way.
  await knex.raw("create unique index imports_under_way on imports (name) where state in ('waiting', 'running')");
  await knex.schema.createTable('import_pieces', (table) => {
    table.integer('import_id').notNullable().references('imports.id').onDelete('CASCADE');
    table.integer('number').notNullable();
    table.boolean('packed').notNullable();
    table.binary('data').notNullable();
    table.primary(['import_id', 'number']);
  });
  // They are packed as well as they pay to be.
  await knex.raw('alter table import_pieces alter column data set storage external');
}

export async function down(knex: Knex): Promise<void> {
  for (const table of ['import_pieces', 'imports']) await knex.schema.dropTable(table);
}
