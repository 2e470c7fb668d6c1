// `npm run demo`: installs, builds, starts the service, loads Fennel Hill Botanic Garden, replays its log, prints the
// report and serves the console until it is interrupted. Arguments behind `--` go to the demo; see --help.
import { build } from './steps/build.mjs';
import { installMissing, POSTGRESQL } from './steps/debian.mjs';
import { checkNode, installPackages } from './steps/dependencies.mjs';

process.chdir(new URL('..', import.meta.url).pathname);
checkNode();
installPackages();
if (!process.env.DATABASE_URL) installMissing([POSTGRESQL]);
build();
const { runDemo } = await import('./steps/run-demo.mjs');
process.exitCode = await runDemo(process.argv.slice(2));
