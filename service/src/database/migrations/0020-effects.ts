import type { Knex } from 'knex';

/** Who ordered a replay and what for: those that only show the effect of an edit are removed after a while. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('replays', (table) => {
    table.text('purpose').notNullable().defaultTo('asked');
    table.text('ordered_by');
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable('replays', (table) => table.dropColumns('purpose', 'ordered_by'));
}
