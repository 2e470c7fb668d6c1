import type { Knex } from 'knex';

/** Mappings may be of lines of text too, by a pattern. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('mappings', (table) => {
    table.text('pattern').nullable();
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('mappings', (table) => {
    table.dropColumn('pattern');
  });
}
