import type { Knex } from 'knex';

/** What logs, replays and imports take most of their room in. */
const TABLES = ['log_chunks', 'replay_chunks', 'rejected_lines', 'import_pieces'];

/**
 * Gives back the room of what was deleted. Done after imports too, it leaves the database with maps of its room that are
 * large enough, so that it can be done when the disk is full. What cannot be swept now the database sweeps later.
 */
export async function sweep(knex: Knex): Promise<void> {
  for (const table of TABLES) await knex.raw(`vacuum ${table}`).catch(() => undefined);
}
