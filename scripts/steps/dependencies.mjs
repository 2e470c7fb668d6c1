import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { must } from './run.mjs';
import { say, stop } from './say.mjs';

const STAMP = 'node_modules/.jade-fence-lock';
const LEAST_NODE = [20, 19];

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major > LEAST_NODE[0] || (major === LEAST_NODE[0] && minor >= LEAST_NODE[1])) return;
  stop(`Node.js ${process.versions.node} is too old.`, `Install Node.js ${LEAST_NODE.join('.')} or newer.`);
}

/** Installs the packages of the lock file, where that has not been done for this lock file. */
export function installPackages() {
  const lock = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === lock) return;
  say('Installing packages');
  must('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  writeFileSync(STAMP, lock);
}
