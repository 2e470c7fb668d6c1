import type { Knex } from 'knex';

/** Proposals, and revisions, that have chosen objects of the draft alone. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('proposals', (table) => {
    table.jsonb('objects');
  });
  await knex.schema.alterTable('revisions', (table) => {
    table.boolean('partial').notNullable().defaultTo(false);
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('proposals', (table) => table.dropColumn('objects'));
  await knex.schema.alterTable('revisions', (table) => table.dropColumn('partial'));
}
