import { execFileSync } from 'node:child_process';
import { chownSync } from 'node:fs';
import { startError } from '../../start-error.js';

/** The user that the server runs as: ourselves, or `postgres` where we are root, since PostgreSQL refuses root. */
export interface Owner {
  readonly uid?: number;
  readonly gid?: number;
}

/** Who the database server runs as: as root the user `postgres`, else ourselves. */
export function serverOwner(root: boolean): Owner {
  if (!root) return {};
  try {
    const id = (flag: string) => Number(execFileSync('id', [flag, 'postgres'], { encoding: 'utf8', stdio: 'pipe' }));
    return { uid: id('-u'), gid: id('-g') };
  } catch {
    throw startError('no-postgres-user');
  }
}

/** Gives a folder to the owner, where it is somebody else. */
export function giveTo(owner: Owner, folder: string): void {
  if (owner.uid !== undefined && owner.gid !== undefined) chownSync(folder, owner.uid, owner.gid);
}
