import { spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync } from 'node:fs';
import { homedir, tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { say, stop } from './say.mjs';
import { CLIENT, startService } from './service.mjs';

const SHIPPED_LOG = 'demo/logs/week.jsonl';
const SHIPPED_REQUESTS = 5000;
const MOST_REQUESTS = 10_000_000;

const OPTIONS = {
  port: { type: 'string' },
  'data-dir': { type: 'string' },
  requests: { type: 'string', default: String(SHIPPED_REQUESTS) },
  once: { type: 'boolean', default: false },
  help: { type: 'boolean', default: false },
};

const HELP = `Usage: npm run demo -- [options]

  --port <number>      the port of the console (default: 7440; 0 takes any free one)
  --data-dir <folder>  where the demo's database is kept
  --requests <count>   replay a log of this many requests instead of the shipped 5,000, up to 10,000,000
  --once               end after the report instead of serving the console
  --help               this text`;

/** Runs the demo with the options of `demoOptions`, and answers what to end with. */
export async function runDemo(values) {
  say('Starting the service');
  // The listener for gateways is beside it.
  const gatePort = Number(values.port) === 0 ? '0' : String(Number(values.port) + 1);
  const port = values.port === undefined ? [] : ['--port', values.port, '--gate-port', gatePort];
  const service = await startService(['--data-dir', values['data-dir'] ?? defaultDataDir(), ...port]);
  if (service.url === undefined) return service.exitCode;
  const stopped = once(service.process, 'exit');
  // The report goes by as it is: a pager would hold the demo up.
  const env = { ...process.env, JADE_FENCE_URL: service.url, JADE_FENCE_PAGER: '' };
  const client = (...given) =>
    spawnSync(process.execPath, [CLIENT, '--key-file', service.keyFile, ...given], {
      env,
      stdio: ['ignore', 'inherit', 'inherit'],
    }).status === 0;
  const loaded = loadDemo(client, values.requests, env, service.keyFile);
  if (loaded && !values.once) printAddresses(service);
  if (values.once || !loaded) service.process.kill('SIGTERM');
  await stopped;
  return loaded ? 0 : 1;
}

/** The demo keeps out of the way of a service that is used for real. */
function defaultDataDir() {
  if (process.env.XDG_DATA_HOME) return join(process.env.XDG_DATA_HOME, 'jade-fence-demo');
  return process.getuid?.() === 0 ? '/var/lib/jade-fence-demo' : join(homedir(), '.local/share/jade-fence-demo');
}

/** The options that were given; else the script's end, with what is wrong with them, or with its help. */
export function demoOptions(args) {
  try {
    const { values } = parseArgs({ args, options: OPTIONS });
    if (values.help) {
      console.log(HELP);
      process.exit(0);
    }
    const requests = Number(values.requests);
    if (!Number.isInteger(requests) || requests < 1 || requests > MOST_REQUESTS)
      stop(`--requests ${values.requests} is not a whole number from 1 to 10,000,000.`, 'See npm run demo -- --help');
    return { ...values, requests };
  } catch (error) {
    return stop(error.message, 'See npm run demo -- --help');
  }
}

/** Loads what is not there yet, so that what was changed since the first start stays, and replays the log. */
function loadDemo(client, requests, env, keyFile) {
  const ask = (...given) =>
    JSON.parse(
      spawnSync(process.execPath, [CLIENT, '--key-file', keyFile, '--json', ...given], { env, encoding: 'utf8' })
        .stdout,
    );
  const { policies, countryData } = ask('service', 'show');
  const shipped = requests === SHIPPED_REQUESTS;
  const log = shipped ? 'week' : `week-of-${requests}`;
  const isThere = ask('log', 'list').logs.some((each) => each.name === log);
  say('Loading Fennel Hill Botanic Garden');
  const steps = [
    () => policies.length > 0 || client('workspace', 'apply', 'demo/workspace'),
    () => countryData !== null || client('country', 'import', 'demo/country-data.csv', '--date', '2026-11-01'),
    () => ask('resolution', 'show').hosts > 0 || client('resolution', 'import', 'demo/resolutions.csv'),
    () => isThere || (shipped ? client('log', 'import', SHIPPED_LOG) : importGenerated(client, log, requests)),
    () => client('replay', 'run', log),
  ];
  return steps.every((step) => step());
}

function importGenerated(client, log, requests) {
  const folder = mkdtempSync(join(tmpdir(), 'jade-fence-demo-'));
  try {
    const file = join(folder, 'log.jsonl');
    say(`Making a log of ${requests.toLocaleString('en')} requests`);
    const made = spawnSync(process.execPath, ['demo/dist/main.js', '--requests', String(requests), '--out', file], {
      stdio: ['ignore', 'inherit', 'inherit'],
    });
    return made.status === 0 && client('log', 'import', file, '--name', log);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function printAddresses({ url, gateUrl, keyFile }) {
  console.log(
    `\nConsole     ${url}\nGateways    ${gateUrl}\nAccess key  cat ${keyFile}\nClient      JADE_FENCE_URL=${url} node ${CLIENT} --key-file ${keyFile} --help\n\nPress Ctrl-C to stop; what is loaded is kept.`,
  );
}
