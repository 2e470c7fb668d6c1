// `npm run fuzz -- --seconds N --seed S --only PROPERTY`: looks for a request on which two readings of it differ, such as
// the two engines, two readers of a log, or a path and Node's own. The seed is printed; the default is a fresh one.
import { randomInt } from 'node:crypto';
import { parseArgs } from 'node:util';
import { build } from './steps/build.mjs';
import { installMissing, POSTGRESQL } from './steps/debian.mjs';
import { checkNode, installPackages } from './steps/dependencies.mjs';
import { must } from './steps/run.mjs';

process.chdir(new URL('..', import.meta.url).pathname);
const USAGE = 'npm run fuzz -- [--seconds N] [--seed S] [--only PROPERTY]';
const { seconds, seed, only } = read();

checkNode();
installPackages();
installMissing([POSTGRESQL]);
build();
must('node_modules/.bin/vitest', ['run', '--project', 'fuzz', '--disable-console-intercept'], {
  env: { ...process.env, FUZZ_SECONDS: seconds, FUZZ_SEED: seed, ...(only === undefined ? {} : { FUZZ_ONLY: only }) },
});

function read() {
  try {
    const { values } = parseArgs({
      options: {
        seconds: { type: 'string', default: '60' },
        seed: { type: 'string', default: String(randomInt(2 ** 31)) },
        only: { type: 'string' },
      },
    });
    for (const name of ['seconds', 'seed'])
      if (!/^\d{1,10}$/.test(values[name])) throw new Error(`--${name} takes a whole number, not ${values[name]}`);
    return values;
  } catch (error) {
    console.error(`${error.message}\n${USAGE}`);
    process.exit(2);
  }
}
