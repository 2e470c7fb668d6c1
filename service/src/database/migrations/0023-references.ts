import type { Knex } from 'knex';

/** What stopped clients are told, by which their decision is found. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('decisions', (table) => {
    table.text('reference').index();
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('decisions', (table) => table.dropColumn('reference'));
}
