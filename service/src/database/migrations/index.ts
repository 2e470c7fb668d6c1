import type { Knex } from 'knex';
import * as first from './0001-workspace-logs-replays.js';
import * as second from './0002-verdicts-by-outcome.js';
import * as third from './0003-breakdowns.js';
import * as fourth from './0004-jobs.js';
import * as fifth from './0005-summaries.js';
import * as sixth from './0006-mappings.js';
import * as seventh from './0007-redaction.js';
import * as eighth from './0008-paths.js';
import * as ninth from './0009-people-and-revisions.js';
import * as tenth from './0010-decisions.js';
import * as eleventh from './0011-edited-lists.js';
import * as twelfth from './0012-feeds.js';
import * as thirteenth from './0013-country-data-in-force.js';
import * as fourteenth from './0014-packed-as-it-is.js';
import * as fifteenth from './0015-imports.js';
import * as sixteenth from './0016-unreadable-values.js';
import * as seventeenth from './0017-gateways-sessions-throttle.js';
import * as eighteenth from './0018-audit-chain-alerts.js';
import * as nineteenth from './0019-sees-addresses.js';
import * as twentieth from './0020-effects.js';
import * as twentyFirst from './0021-given-by-file.js';
import * as twentySecond from './0022-chosen-objects.js';
import * as twentyThird from './0023-references.js';
import * as twentyFourth from './0024-patterns.js';
import * as twentyFifth from './0025-archives.js';
import * as twentySixth from './0026-resolutions.js';
import * as twentySeventh from './0027-decisions-shown.js';
import * as twentyEighth from './0028-rule-usage.js';

interface NamedMigration extends Knex.Migration {
  readonly name: string;
}

const MIGRATIONS: readonly NamedMigration[] = [
  { name: '0001-workspace-logs-replays', ...first },
  { name: '0002-verdicts-by-outcome', ...second },
  { name: '0003-breakdowns', ...third },
  { name: '0004-jobs', ...fourth },
  { name: '0005-summaries', ...fifth },
  { name: '0006-mappings', ...sixth },
  { name: '0007-redaction', ...seventh },
  { name: '0008-paths', ...eighth },
  { name: '0009-people-and-revisions', ...ninth },
  { name: '0010-decisions', ...tenth },
  { name: '0011-edited-lists', ...eleventh },
  { name: '0012-feeds', ...twelfth },
  { name: '0013-country-data-in-force', ...thirteenth },
  { name: '0014-packed-as-it-is', ...fourteenth },
  { name: '0015-imports', ...fifteenth },
  { name: '0016-unreadable-values', ...sixteenth },
  { name: '0017-gateways-sessions-throttle', ...seventeenth },
  { name: '0018-audit-chain-alerts', ...eighteenth },
  { name: '0019-sees-addresses', ...nineteenth },
  { name: '0020-effects', ...twentieth },
  { name: '0021-given-by-file', ...twentyFirst },
  { name: '0022-chosen-objects', ...twentySecond },
  { name: '0023-references', ...twentyThird },
  { name: '0024-patterns', ...twentyFourth },
  { name: '0025-archives', ...twentyFifth },
  { name: '0026-resolutions', ...twentySixth },
  { name: '0027-decisions-shown', ...twentySeventh },
  { name: '0028-rule-usage', ...twentyEighth },
];

/** The migrations, in order, by name; a name never changes once it is published. */
export const migrationSource: Knex.MigrationSource<NamedMigration> = {
  getMigrations: async () => [...MIGRATIONS],
  getMigrationName: (migration) => migration.name,
  getMigration: async (migration) => migration,
};
