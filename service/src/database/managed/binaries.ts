import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { startError } from '../../start-error.js';

/** Debian puts the programs of each major version in a folder of their own. */
const DEBIAN = '/usr/lib/postgresql';

/** The major version of the data in a cluster's folder; undefined where there is none yet. */
export function clusterVersion(cluster: string): string | undefined {
  const file = join(cluster, 'PG_VERSION');
  return existsSync(file) ? readFileSync(file, 'utf8').trim() : undefined;
}

/** The versions of PostgreSQL that Debian has installed, the newest first, with the folder of each. */
export function debianVersions(debian = DEBIAN): { readonly version: string; readonly bin: string }[] {
  const versions = existsSync(debian) ? readdirSync(debian).sort((a, b) => Number(b) - Number(a)) : [];
  return versions.map((version) => ({ version, bin: join(debian, version, 'bin') })).filter(({ bin }) => isWhole(bin));
}

/**
 * The folder with PostgreSQL's server programs. Data that is there is opened by the version that made it; new data by
 * the newest of Debian's, else by the one on the PATH.
 */
export function findPostgres(path: string, version?: string, debian = DEBIAN): string {
  const versions = debianVersions(debian);
  const onPath = path.split(delimiter).find(isWhole);
  if (version !== undefined) {
    const own = versions.find((each) => each.version === version)?.bin;
    if (own !== undefined) return own;
    // What is on the PATH may be of that version too; where it is not, it says so itself.
    if (onPath !== undefined && versions.length === 0) return onPath;
    throw startError('postgresql-version', { version, newest: versions[0]?.version });
  }
  const found = versions[0]?.bin ?? onPath;
  if (found !== undefined) return found;
  throw startError('no-postgresql');
}

const isWhole = (folder: string): boolean => existsSync(join(folder, 'initdb')) && existsSync(join(folder, 'postgres'));
