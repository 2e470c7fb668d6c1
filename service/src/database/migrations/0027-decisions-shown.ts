import type { Knex } from 'knex';

/** The column of a decision's request by the word that its readers use. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('decisions', (table) => table.renameColumn('told', 'shown'));
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('decisions', (table) => table.renameColumn('shown', 'told'));
}
