import type { Knex } from 'knex';
import { note } from '../audit/audit.js';

/** What administrators choose for the whole service. */
export interface Settings {
  /** Whether what one person wants to publish is published by another. */
  readonly fourEyes: boolean;
  /** Where alerts of live decisions are sent; null: nowhere. */
  readonly alertUrl: string | null;
}

const DEFAULTS: Settings = { fourEyes: false, alertUrl: null };

export async function currentSettings(knex: Knex): Promise<Settings> {
  const rows: { name: string; value: unknown }[] = await knex('settings').select('name', 'value');
  return { ...DEFAULTS, ...Object.fromEntries(rows.map(({ name, value }) => [name, value])) };
}

export async function changeSettings(
  knex: Knex,
  change: { readonly [K in keyof Settings]?: Settings[K] | undefined },
  by: string,
): Promise<Settings> {
  return knex.transaction(async (trx) => {
    for (const [name, value] of Object.entries(change)) {
      if (value === undefined) continue;
      await trx('settings')
        .insert({ name, value: JSON.stringify(value) })
        .onConflict('name')
        .merge();
      await note(trx, [{ actor: by, action: 'setting-changed', kind: 'setting', name, detail: { value } }]);
    }
    return currentSettings(trx);
  });
}
