// `npm test`: sets up what it needs, then checks format, lint, types, the arrows between folders, and the tests.
// What stands behind `--` goes to the test runner, such as a file's name.
import { build } from './steps/build.mjs';
import { CHROMIUM, installMissing, POSTGRESQL } from './steps/debian.mjs';
import { checkNode, installPackages } from './steps/dependencies.mjs';
import { succeeds } from './steps/run.mjs';
import { say } from './steps/say.mjs';

process.chdir(new URL('..', import.meta.url).pathname);
checkNode();
installPackages();
installMissing([POSTGRESQL, CHROMIUM]);
build();

say('Checking format and lint');
const clean = succeeds('node_modules/.bin/biome', ['check', '--error-on-warnings', '.']);
say('Checking the arrows between folders');
const arrows = succeeds('npm', ['run', '--silent', 'arrows']);
say('Testing');
const passed = succeeds('node_modules/.bin/vitest', ['run', ...process.argv.slice(2)]);
// Told last, because whoever reads only the end of the output sees the tests alone.
if (!clean) say('Format and lint found what is told above');
if (!arrows) say('The arrows between folders point where they may not, as told above');
process.exit(clean && arrows && passed ? 0 : 1);
