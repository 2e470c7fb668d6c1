import type { Knex } from 'knex';

/** Which addresses hosts have: answers as they were loaded, and the jobs that look hosts up. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('resolution_loads', (table) => {
    table.increments('id');
    table.text('kind').notNullable();
    table.text('name').notNullable();
    table.text('actor');
    table.boolean('anew').notNullable();
    table.integer('hosts').notNullable();
    table.jsonb('faults').notNullable();
    table.integer('fault_count').notNullable();
    table.binary('data').notNullable();
    table.timestamp('loaded_at').notNullable().defaultTo(knex.fn.now());
  });
  await knex.raw('alter table resolution_loads alter column data set storage external');
  await knex.schema.createTable('resolves', (table) => {
    table.increments('id');
    table.integer('log_id').references('logs.id').onDelete('SET NULL');
    table.text('log_name');
    table.jsonb('hosts');
    table.text('by').notNullable();
    table.text('actor').notNullable();
    table.bigInteger('total');
    table.jsonb('counts').notNullable();
    table.jsonb('examples').notNullable().defaultTo('[]');
    table.integer('load_id');
    table.text('state').notNullable();
    table.bigInteger('done').notNullable().defaultTo(0);
    table.jsonb('failure');
    table.uuid('job_id');
    table.integer('attempt').notNullable().defaultTo(0);
    table.integer('tries').notNullable().defaultTo(0);
    table.timestamp('lease_until');
    table.text('run_by');
    table.timestamp('begun_at');
    table.timestamp('started_at').notNullable().defaultTo(knex.fn.now());
    table.timestamp('touched_at').notNullable().defaultTo(knex.fn.now());
    table.timestamp('finished_at');
    table.index('log_id');
  });
  await knex.schema.alterTable('replays', (table) => {
    // Those that it judged by; null: there were none.
    table.integer('resolutions_id');
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('replays', (table) => {
    table.dropColumn('resolutions_id');
  });
  for (const table of ['resolves', 'resolution_loads']) await knex.schema.dropTable(table);
}
