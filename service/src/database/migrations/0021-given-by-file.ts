import type { Knex } from 'knex';

/** Which versions files gave, so that what was edited here since is not overwritten by files unasked. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('object_versions', (table) => {
    table.boolean('by_file').notNullable().defaultTo(false);
  });
  // What was edited by entries did not come in files; of the others nothing is known.
  await knex('object_versions').whereNull('edit').update({ by_file: true });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('object_versions', (table) => table.dropColumn('by_file'));
}
