import { chmodSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A temporary folder that another user may pass through: as root, the database server runs as `postgres`. */
export function openFolder(): string {
  const folder = mkdtempSync(join(tmpdir(), 'jade-fence-test-'));
  chmodSync(folder, 0o711);
  return folder;
}
