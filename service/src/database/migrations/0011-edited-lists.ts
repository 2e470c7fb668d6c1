import type { Knex } from 'knex';

/** A version of a long list may be told by the version that it was edited from, so that the list is stored once. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('object_versions', (table) => {
    table.setNullable('text');
    table.integer('base_id').references('object_versions.id');
    // Entries added, and the words of those removed.
    table.jsonb('edit');
    // How much there is to edit until a version with a text is met.
    table.integer('edit_weight').notNullable().defaultTo(0);
    table.check('(text is null) = (base_id is not null and edit is not null)', [], 'object_versions_text_or_edit');
  });
}

export async function down(): Promise<void> {
  throw new Error('texts of edited lists cannot be made in the database');
}
