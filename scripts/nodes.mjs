// `npm run nodes`: the unit tests, and a start of the demo, under other versions of Node.js than the one that runs this.
// Arguments behind `--` are the versions, such as `24`. They come from the npm registry, and are not kept.
import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from './steps/build.mjs';
import { installMissing, POSTGRESQL } from './steps/debian.mjs';
import { checkNode, installPackages } from './steps/dependencies.mjs';
import { must, succeeds } from './steps/run.mjs';
import { say } from './steps/say.mjs';

const VERSIONS = ['22', '24'];
const PACKAGE = `node-${process.platform}-${process.arch}`;

process.chdir(new URL('..', import.meta.url).pathname);
checkNode();
installPackages();
installMissing([POSTGRESQL]);
build();

const failed = (process.argv.length > 2 ? process.argv.slice(2) : VERSIONS).filter((version) => !holds(version));
for (const version of failed) say(`Node.js ${version} does not pass`);
process.exit(failed.length > 0 ? 1 : 0);

/** Whether everything passes under a version of Node.js. */
function holds(version) {
  const folder = mkdtempSync(join(tmpdir(), 'jade-fence-node-'));
  // The database server runs as another user, who has to get there.
  chmodSync(folder, 0o755);
  try {
    say(`Fetching Node.js ${version}`);
    must('npm', [
      'install',
      '--prefix',
      folder,
      '--no-audit',
      '--no-fund',
      '--loglevel=error',
      `${PACKAGE}@${version}`,
    ]);
    const bin = join(folder, 'node_modules', PACKAGE, 'bin');
    const node = join(bin, 'node');
    const env = { ...process.env, PATH: `${bin}:${process.env.PATH}` };
    const told = spawnSync(node, ['--version'], { encoding: 'utf8' }).stdout.trim();
    say(`The unit tests under ${told}`);
    const unit = succeeds(node, ['node_modules/.bin/vitest', 'run', '--project', 'unit'], { env });
    say(`A start of the demo under ${told}`);
    const data = ['--once', '--port', '0', '--data-dir', join(folder, 'data')];
    return succeeds(node, ['scripts/demo.mjs', ...data], { env }) && unit;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
