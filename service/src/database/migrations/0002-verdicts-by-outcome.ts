import type { Knex } from 'knex';

const REASON = 'It was made by an earlier version, which kept verdicts in another form. Run it again.';

/** Verdicts are kept as outcomes from now on. What earlier replays kept cannot be read as such, and is soon made again. */
export async function up(knex: Knex): Promise<void> {
  await knex('replay_chunks').delete();
  await knex('replays')
    .whereIn('state', ['running', 'done'])
    .update({ state: 'failed', failure: REASON, report: null });
}

export async function down(): Promise<void> {
  // There is nothing to take back: replays are made again.
}
