import type { Knex } from 'knex';

/** How often each rule did something on each day (UTC), of the decisions of all services. */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.createTable('rule_usage', (table) => {
    table.text('policy').notNullable();
    table.text('rule').notNullable();
    table.text('role').notNullable();
    table.date('day').notNullable();
    table.bigInteger('count').notNullable();
    table.timestamp('last_at').notNullable();
    table.primary(['policy', 'rule', 'role', 'day']);
    table.index('day');
  });
}

export async function down(knex: Knex): Promise<void> {
  await knex.schema.dropTable('rule_usage');
}
