import type { ResolutionFormat } from '@jade-fence/core/resolution';
import type { Knex } from 'knex';
import { refusal } from '../fault/refusal.js';
import type { ResolutionLoad } from '../model/resolution-load.js';
import { once } from '../worker/once.js';
import { addLoad } from './add.js';
import { resolutionLoad } from './store.js';

const FAULTS_IN_PROBLEM = 20;

export interface LoadedResolutions {
  /** Where it came from, such as the name of the file. */
  readonly source: string;
  readonly format: ResolutionFormat | undefined;
  /** What relative names of a zone file are under. */
  readonly origin: string | undefined;
  /** Whether what was known before does not count any more. */
  readonly anew: boolean;
  readonly file: Uint8Array;
}

/** Loads a file of resolutions, in force at once. Skips invalid lines and reports them; refuses a file without a valid one. */
export async function loadResolutionFile(
  knex: Knex,
  { source, format, origin, anew, file }: LoadedResolutions,
  by: string,
): Promise<ResolutionLoad> {
  const options = { name: source, seen: Date.now(), format, origin };
  const look = await once('lookAtResolutionFile', [file, options]);
  const { faults, faultCount } = look;
  if (look.hosts === 0)
    throw refusal(
      'no-resolutions',
      {},
      {
        issues: faults.slice(0, FAULTS_IN_PROBLEM).map(({ line, reason }) => ({ path: `line ${line}`, what: reason })),
      },
    );
  const kind = look.format as ResolutionFormat;
  const load = { data: look.packed, hosts: look.hosts };
  const id = await addLoad(knex, load, { kind, name: source, anew, faults, faultCount, by });
  return (await resolutionLoad(knex, id)) as ResolutionLoad;
}
