// `npm run pack`: makes one package that runs the service, the client and the console on a machine with Node alone:
// `npm install -g jade-fence-VERSION.tgz`. With `--built` it takes what has been built; `--output FOLDER` chooses where to.
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { build } from './steps/build.mjs';
import { succeeds } from './steps/run.mjs';

const { values } = parseArgs({
  options: { built: { type: 'boolean', default: false }, output: { type: 'string', default: 'dist' } },
});
const output = resolve(values.output);
process.chdir(new URL('..', import.meta.url).pathname);
if (!values.built) build();

const manifest = (folder) => JSON.parse(readFileSync(`${folder}/package.json`, 'utf8'));
const write = (folder, content) => writeFileSync(join(folder, 'package.json'), `${JSON.stringify(content, null, 2)}\n`);
/** Everything but source maps, which make two thirds of the size. */
const copy = (from, to) => cpSync(from, to, { recursive: true, filter: (path) => !path.endsWith('.map') });

const { name, version, description, license, engines, type } = manifest('.');
const { snappy } = manifest('service').dependencies;
const stage = mkdtempSync(join(tmpdir(), 'jade-fence-pack-'));
try {
  // The client is the package; what it starts and serves comes with it, each where the others look for it.
  const parts = { service: ['bundle'], contract: ['dist/calls.json'], console: ['dist/app'] };
  for (const [part, paths] of Object.entries(parts)) {
    const folder = join(stage, 'node_modules', '@jade-fence', part);
    for (const path of paths) copy(`${part}/${path}`, join(folder, path));
    const { name: partName, exports } = manifest(part);
    write(folder, { name: partName, version, license, type, exports });
  }
  for (const path of ['bin', 'bundle']) copy(`cli/${path}`, join(stage, path));
  for (const path of ['README.md', 'LICENSE']) cpSync(path, join(stage, path), { force: true, errorOnExist: false });
  const bundled = Object.keys(parts).map((part) => `@jade-fence/${part}`);
  write(stage, {
    ...{ name, version, description, license, type, engines },
    bin: { [name]: './bin/jade-fence.js' },
    dependencies: { snappy, ...Object.fromEntries(bundled.map((each) => [each, version])) },
    bundleDependencies: bundled,
  });
  mkdirSync(output, { recursive: true });
  if (!succeeds('npm', ['pack', '--silent', '--pack-destination', output], { cwd: stage })) process.exitCode = 1;
} finally {
  rmSync(stage, { recursive: true, force: true });
}
