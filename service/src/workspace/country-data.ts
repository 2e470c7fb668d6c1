import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { parseTime } from '@jade-fence/core/text';
import type { Knex } from 'knex';
import { note } from '../audit/audit.js';
import { countryDataSet } from '../country/store.js';
import { Refusal } from '../fault/refusal.js';
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
    throw new Refusal('no-country-data', 'No row of the file could be read; the country data stays as it was.', {
      remedy:
        'It is CSV with rows `start,end,CODE` or `CIDR,CODE`, statistics of a regional internet registry, or an MMDB file.',
      issues: faults.slice(0, FAULTS_IN_PROBLEM).map(({ line, reason }) => ({ path: `line ${line}`, what: reason })),
    });
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
  throw new Refusal('bad-date', `\`${text}\` is not a day.`, { remedy: 'Write it like 2026-11-01.' });
}

/** Puts country data in force again that was so before. */
export async function fetchBackCountryData(trx: Knex.Transaction, id: number, by: string): Promise<void> {
  const set = await countryDataSet(trx, id);
  if (!set) throw new Refusal('country-data-gone', 'The country data of that state is gone; nothing was changed.');
  await CountryDataSet.query(trx)
    .findById(id)
    .patch({ inForceAt: trx.raw('clock_timestamp()') as never });
  await moveDraft(trx);
  const deed = { action: 'country-data-restored', kind: 'country-data', name: set.source } as const;
  await note(trx, [{ actor: by, ...deed, detail: { date: set.date, networks: set.networks } }]);
}
