import type { Knex } from 'knex';

/**
 * Replays become jobs that any service on the database can take, over one log or several, over all of their requests or
 * some; and what a replay keeps of a chunk says which chunk that is.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('replays', (table) => {
    // Which logs, in their order; `log_id` is the first of them.
    table.jsonb('log_ids').notNullable().defaultTo('[]');
    table.jsonb('only').nullable();
    // Documents that were judged in place of the workspace's own of their names, and are stored nowhere else.
    table.jsonb('documents').nullable();
    table.uuid('job_id').nullable();
    table.integer('attempt').notNullable().defaultTo(0);
    // The session of the service that runs it.
    table.text('run_by').nullable();
    table.timestamp('begun_at').nullable();
  });
  await knex.raw('update replays set log_ids = jsonb_build_array(log_id)');
  await knex.schema.alterTable('replay_chunks', (table) => {
    table.integer('log_id').nullable();
    table.integer('log_chunk').nullable();
    table.integer('rows').nullable();
  });
  await knex.raw(
    `update replay_chunks set log_id = replays.log_id, log_chunk = replay_chunks.number, rows = log_chunks.rows
     from replays, log_chunks
     where replays.id = replay_id and log_chunks.log_id = replays.log_id and log_chunks.number = replay_chunks.number`,
  );
  await knex.schema.alterTable('log_chunks', (table) => {
    // Null where no request of the chunk has a time.
    table.double('first_time').nullable();
    table.double('last_time').nullable();
    // False of chunks that were stored before times were kept, so that nothing follows from their being null.
    table.boolean('times_kept').notNullable().defaultTo(false);
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('log_chunks', (table) => table.dropColumns('first_time', 'last_time', 'times_kept'));
  await knex.schema.alterTable('replay_chunks', (table) => table.dropColumns('log_id', 'log_chunk', 'rows'));
  await knex.schema.alterTable('replays', (table) =>
    table.dropColumns('log_ids', 'only', 'documents', 'job_id', 'attempt', 'run_by', 'begun_at'),
  );
}
