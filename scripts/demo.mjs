// `npm run demo`: installs, builds, starts the service, loads Fennel Hill Botanic Garden, replays its log, prints the
// report and serves the console until it is interrupted. Arguments behind `--` go to the demo; see --help.
import { build } from './steps/build.mjs';
import { installMissing, POSTGRESQL } from './steps/debian.mjs';
import { checkNode, installPackages } from './steps/dependencies.mjs';
import { demoOptions, runDemo } from './steps/run-demo.mjs';

process.chdir(new URL('..', import.meta.url).pathname);
checkNode();
// Before anything is installed: what is wrong with them, or what there are.
const options = demoOptions(process.argv.slice(2));
installPackages();
if (!process.env.DATABASE_URL) installMissing([POSTGRESQL]);
build();
process.exitCode = await runDemo(options);
