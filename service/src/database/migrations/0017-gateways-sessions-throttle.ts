import type { Knex } from 'knex';

/** Tokens of gateways, which belong to no person; sessions that can be listed and go idle; tries that services share. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable('tokens', (table) => {
    // `person`: calls in a person's name. `gateway`: asks for live decisions, and may do nothing else.
    table.text('kind').notNullable().defaultTo('person');
    table.integer('person_id').nullable().alter();
  });
  await knex.raw(
    "alter table tokens add constraint token_has_holder check ((kind = 'person') = (person_id is not null))",
  );
  await knex.raw("create unique index gateway_names on tokens (name) where kind = 'gateway'");
  await knex('sessions').delete();
  await knex.schema.alterTable('sessions', (table) => {
    table.increments('id', { primaryKey: false });
    // The token that it was opened with, and ends with.
    table.integer('token_id').references('tokens.id').onDelete('CASCADE');
    table.timestamp('created_at').notNullable().defaultTo(knex.fn.now());
    table.timestamp('used_at').notNullable().defaultTo(knex.fn.now());
    table.text('from').notNullable().defaultTo('');
    table.text('agent').notNullable().defaultTo('');
  });
  await knex.schema.createTable('tries', (table) => {
    table.string('key', 255).primary();
    table.integer('points').notNullable().defaultTo(0);
    table.bigInteger('expire');
    table.index('expire');
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.dropTable('tries');
  await knex.schema.alterTable('sessions', (table) => {
    table.dropColumns('id', 'token_id', 'created_at', 'used_at', 'from', 'agent');
  });
  await knex('tokens').where({ kind: 'gateway' }).delete();
  await knex.raw('drop index gateway_names');
  await knex.raw('alter table tokens drop constraint token_has_holder');
  await knex.schema.alterTable('tokens', (table) => {
    table.dropColumn('kind');
    table.integer('person_id').notNullable().alter();
  });
}
