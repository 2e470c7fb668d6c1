import type { Knex } from 'knex';

/** Where lists come from that others keep, and what became of the last try. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('feeds', (table) => {
    table.text('list').primary();
    table.text('sort').notNullable();
    // An address of the web, or `file:` and the name of a file in the folder of feeds.
    table.text('source').notNullable();
    table.integer('every_seconds').notNullable();
    table.boolean('allow_private').notNullable();
    table.boolean('publish').notNullable();
    table.text('made_by').notNullable();
    // What the source called its state when it was last taken.
    table.text('tag');
    table.timestamp('next_at').notNullable();
    table.jsonb('last');
    table.timestamp('good_at');
    table.index('next_at');
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.dropTable('feeds');
}
