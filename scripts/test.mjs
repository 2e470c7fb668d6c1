// `npm test`: sets up what it needs, then checks format, lint, types, the arrows between folders, and the tests.
// Arguments behind `--` go to the test runner, such as a file's name.
import { randomInt } from 'node:crypto';
import { build } from './steps/build.mjs';
import {
  CADDY,
  CHROMIUM,
  DNS_SERVER,
  installMissing,
  LOG_WRITERS,
  NGINX,
  PACKERS,
  POSTGRESQL,
} from './steps/debian.mjs';
import { checkNode, installPackages } from './steps/dependencies.mjs';
import { succeeds } from './steps/run.mjs';
import { say } from './steps/say.mjs';

process.chdir(new URL('..', import.meta.url).pathname);
checkNode();
installPackages();
installMissing([POSTGRESQL, CHROMIUM, NGINX, CADDY, DNS_SERVER, ...LOG_WRITERS, ...PACKERS]);
build();

say('Checking format and lint');
const clean = succeeds('node_modules/.bin/biome', ['check', '--error-on-warnings', '.']);
say('Checking the arrows between folders');
const arrows = succeeds('npm', ['run', '--silent', 'arrows']);
say('Testing');
// A minute of the tests looks for what nobody thought of, from another seed each time.
const env = { FUZZ_SECONDS: '60', FUZZ_SEED: String(randomInt(2 ** 31)), ...process.env };
say(`The seed of the fuzzing is ${env.FUZZ_SEED}`);
const passed = succeeds('node_modules/.bin/vitest', ['run', ...process.argv.slice(2)], { env });
// Told last, because whoever reads only the end of the output sees the tests alone.
if (!clean) say('Format and lint found the faults above');
if (!arrows) say('Imports between folders break the rules, as listed above');
process.exit(clean && arrows && passed ? 0 : 1);
