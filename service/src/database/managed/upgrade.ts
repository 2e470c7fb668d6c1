import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startError } from '../../start-error.js';
import { clusterVersion, debianVersions, findPostgres } from './binaries.js';
import { initialise, waitUntilFree } from './cluster.js';
import { giveTo, serverOwner } from './owner.js';

export interface Upgraded {
  readonly from: string;
  readonly to: string;
  /** Where the data as it was is kept, to be deleted once all is well; undefined where nothing was to be done. */
  readonly kept: string | undefined;
}

/**
 * Brings the data of a managed server to the newest version of PostgreSQL that is installed, by pg_upgrade: into a new
 * folder, which takes the place of the old one only when all went well. No service may run on it.
 */
export async function upgradeCluster(dataDir: string, root: boolean, path: string): Promise<Upgraded> {
  const cluster = join(dataDir, 'postgres');
  const from = clusterVersion(cluster);
  if (from === undefined) throw startError('no-data', { dataDir });
  const [newest] = debianVersions();
  if (newest === undefined || Number(newest.version) <= Number(from)) return { from, to: from, kept: undefined };
  await waitUntilFree(cluster);
  const old = findPostgres(path, from);
  const owner = serverOwner(root);
  const fresh = `${cluster}-${newest.version}`;
  initialise(newest.bin, fresh, owner);
  // pg_upgrade writes its logs where it is called.
  const work = mkdtempSync(join(tmpdir(), 'jade-fence-upgrade-'));
  giveTo(owner, work);
  const args = ['-b', old, '-B', newest.bin, '-d', cluster, '-D', fresh, '-U', 'jade_fence', '-s', work];
  const ran = spawnSync(join(newest.bin, 'pg_upgrade'), args, { ...owner, cwd: work, encoding: 'utf8' });
  rmSync(work, { recursive: true, force: true });
  if (ran.status !== 0) {
    rmSync(fresh, { recursive: true, force: true });
    throw startError('upgrade-failed', { version: newest.version, output: lastLines(ran.stdout + ran.stderr) });
  }
  const kept = `${cluster}-${from}-before-upgrade`;
  if (existsSync(kept)) rmSync(kept, { recursive: true, force: true });
  renameSync(cluster, kept);
  renameSync(fresh, cluster);
  return { from, to: newest.version, kept };
}

const lastLines = (text: string): string => text.trim().split('\n').slice(-4).join(' ');
