import { existsSync, readdirSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { StartError } from '../../start-error.js';

/** Debian puts the programs of each major version in a folder of their own. */
const DEBIAN = '/usr/lib/postgresql';

/** The folder with PostgreSQL's server programs: the newest of Debian's, else the one on the PATH. */
export function findPostgres(path: string): string {
  const versions = existsSync(DEBIAN) ? readdirSync(DEBIAN).sort((a, b) => Number(b) - Number(a)) : [];
  const folders = [...versions.map((version) => join(DEBIAN, version, 'bin')), ...path.split(delimiter)];
  const found = folders.find((folder) => existsSync(join(folder, 'initdb')) && existsSync(join(folder, 'postgres')));
  if (found !== undefined) return found;
  throw new StartError(
    'no-postgresql',
    'PostgreSQL is not installed.',
    'Install the package `postgresql`, or set DATABASE_URL to a database that is already there.',
  );
}
