import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { Setting } from '../model/setting.js';

/** What administrators choose for the whole service. */
export interface Settings {
  /** Whether what one person wants to publish is published by another. */
  readonly fourEyes: boolean;
  /** Where alerts of live decisions are sent; null: nowhere. */
  readonly alertUrl: string | null;
  /** Whether alerts may go to private address space. */
  readonly alertPrivate: boolean;
  /** The DNS servers that hosts are looked up by: addresses, with a port where it is not 53. Empty: nothing is looked up. */
  readonly dnsServers: readonly string[];
  /** The most hosts that are looked up a second, by each service and each resolve. */
  readonly dnsPerSecond: number;
  /** Whether names of private networks may be sent to servers outside. */
  readonly dnsPrivateNames: boolean;
  /** Domains of one's own, whose names are those of private networks too. */
  readonly dnsOwnDomains: readonly string[];
}

const DEFAULTS: Settings = {
  fourEyes: false,
  alertUrl: null,
  alertPrivate: false,
  dnsServers: [],
  dnsPerSecond: 50,
  dnsPrivateNames: false,
  dnsOwnDomains: [],
};

/** The settings as they are, with the defaults of what nobody chose. */
export async function currentSettings(knex: Knex): Promise<Settings> {
  const rows = await Setting.query(knex);
  return { ...DEFAULTS, ...Object.fromEntries(rows.map(({ name, value }) => [name, value])) };
}

/** Changes the settings that are given, notes each in the audit, and answers all of them. */
export async function changeSettings(
  knex: Knex,
  change: { readonly [K in keyof Settings]?: Settings[K] | undefined },
  by: string,
): Promise<Settings> {
  return knex.transaction(async (trx) => {
    for (const [name, value] of Object.entries(change)) {
      if (value === undefined) continue;
      await Setting.query(trx).insert({ name, value }).onConflict('name').merge();
      const detail = { value: name === 'alertUrl' ? masked(value as string | null) : value };
      await note(trx, [{ actor: by, action: 'setting-changed', kind: 'setting', name, detail }]);
    }
    return currentSettings(trx);
  });
}

/** The settings as who is no administrator sees them. */
export const maskedSettings = (settings: Settings): Settings => ({ ...settings, alertUrl: masked(settings.alertUrl) });

/** Where it leads, without what of it may be a secret. */
const masked = (url: string | null): string | null => (url === null ? null : `${new URL(url).origin}/…`);
