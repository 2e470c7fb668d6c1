import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { parseTime } from '@jade-fence/core/text';
import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { countryDataSet } from '../country/store.js';
import { refusal } from '../fault/refusal.js';
import { CountryDataSet } from '../model/country-data-set.js';
import { once } from '../worker/once.js';
import { moveDraft, withDraft } from './draft.js';

const zip = promisify(gzip);

const FAULTS_IN_PROBLEM = 20;

export interface LoadedCountryData {
  readonly source: string;
  /** YYYY-MM-DD. Undefined: the day that the file says, or today where it does not. */
  readonly date: string | undefined;
  readonly file: Uint8Array;
}

/** Stores country data and puts it into the draft. Skips invalid rows and reports them; changes nothing without a valid one. */
export async function loadCountryData(
  knex: Knex,
  { source, date, file }: LoadedCountryData,
  by: string,
): Promise<CountryDataSet> {
  const { networks, faults, faultCount, date: shown } = await once('lookAtCountryFile', [file]);
  if (networks === 0)
    throw refusal(
      'no-country-data',
      {},
      {
        issues: faults.slice(0, FAULTS_IN_PROBLEM).map(({ line, reason }) => ({ path: `line ${line}`, what: reason })),
      },
    );
  const set = {
    source,
    date: dayOf(date ?? shown ?? new Date().toISOString().slice(0, 10)),
    networks,
    faults: [...faults],
    faultCount,
    data: await zip(file),
  };
  return withDraft(knex, undefined, async (trx) => {
    const stored = await CountryDataSet.query(trx).insert(set).returning('*');
    await moveDraft(trx);
    const detail = { date: set.date, networks: set.networks };
    await note(trx, [{ actor: by, action: 'country-data-loaded', kind: 'country-data', name: source, detail }]);
    return stored;
  });
}

/** The day, where the calendar has it. */
function dayOf(text: string): string {
  const time = parseTime(`${text}T00:00:00Z`);
  if (time !== undefined) return text;
  throw refusal('bad-date', { text });
}

/** Puts country data in force again that was so before. */
export async function fetchBackCountryData(trx: Knex.Transaction, id: number, by: string): Promise<void> {
  const set = await countryDataSet(trx, id);
  if (!set) throw refusal('country-data-gone');
  await CountryDataSet.query(trx)
    .findById(id)
    .patch({ inForceAt: trx.raw('clock_timestamp()') as never });
  await moveDraft(trx);
  const deed = { action: 'country-data-restored', kind: 'country-data', name: set.source } as const;
  await note(trx, [{ actor: by, ...deed, detail: { date: set.date, networks: set.networks } }]);
}
