import type { LineFormatName } from '@jade-fence/demo';
import { gardenLines } from './garden.js';
import { type Figure, figureOf, type Pair } from './measure.js';
import { benchService } from './service.js';

/** How many requests the file has that the floor parses. */
export const REQUESTS = 1_000_000;
const UNIT = `ms for ${REQUESTS.toLocaleString('en')} requests`;
const REPLAYS = 3;
const PAGES = 200;
const LOG = 'measured';
let jsonLines: string[] | undefined;
let imports = 0;

const lines = (): string[] => {
  jsonLines ??= gardenLines(REQUESTS, 'json-lines');
  return jsonLines;
};

export const floorName = 'JSON.parse of the file alone';

/** What one thread takes that reads the file in memory and does no more than JSON.parse every line of it. */
export const floor = (): void => {
  const file = jsonBytes();
  for (let start = 0; start < file.length; ) {
    const end = file.indexOf(NEWLINE, start);
    JSON.parse(file.toString('utf8', start, end));
    start = end + 1;
  }
};

const NEWLINE = 10;
let bytes: Buffer | undefined;
const jsonBytes = (): Buffer => {
  bytes ??= Buffer.from(`${lines().join('\n')}\n`);
  return bytes;
};

/** Sending a log to the service, until it is stored. */
export const importPair = (format: LineFormatName, name: string) => async (): Promise<Pair> => {
  const log = format === 'json-lines' ? jsonBytes() : Buffer.from(`${gardenLines(REQUESTS, format).join('\n')}\n`);
  jsonBytes();
  const service = await benchService();
  return { name, unit: UNIT, figure: () => service.upload(`log-${++imports}`, log), floorName, floor };
};

/** The members of a request that other programs put into an object of its own. */
const NESTED = { peer: 'remote_ip', method: 'method', host: 'host', path: 'uri', agent: 'agent' } as const;

/** The same requests, nested as other programs write them, by a mapping; beside our own JSON Lines. */
export async function importMappedPair(): Promise<Pair> {
  const nested = lines().map((line) => {
    const { time, status, bytes: size, ...rest } = JSON.parse(line);
    const request = Object.fromEntries(
      Object.entries(rest).map(([name, value]) => [NESTED[name as 'peer'] ?? name, value]),
    );
    return JSON.stringify({ level: 'info', ts: Date.parse(time) / 1000, request, status, size });
  });
  const column = [
    'time=ts',
    'bytes=size',
    ...Object.entries(NESTED).map(([field, name]) => `${field}=/request/${name}`),
    ...['scheme', 'port', 'forwarded-for', 'destination'].map((field) => `${field}=/request/${field}`),
  ];
  return besides('import-jsonl-mapped', nested, { column }, 'the same by our own JSON Lines', jsonBytes());
}

const COMBINED = '{host} {peer} - {user} [{time}] "{request}" {status} {bytes} "{referrer}" "{agent}"';

/** The combined log format, read by a pattern that says the same; beside its own reader. */
export async function importTextPair(): Promise<Pair> {
  const combined = gardenLines(REQUESTS, 'combined');
  const floorLog = Buffer.from(`${combined.join('\n')}\n`);
  return besides('import-text', combined, { pattern: COMBINED }, 'the same by the reader of that format', floorLog);
}

async function besides(
  name: string,
  log: readonly string[],
  query: Readonly<Record<string, string | readonly string[]>>,
  floorLogName: string,
  floorLog: Buffer,
): Promise<Pair> {
  const sent = Buffer.from(`${log.join('\n')}\n`);
  const service = await benchService();
  return {
    name,
    unit: UNIT,
    figure: () => service.upload(`log-${++imports}`, sent, query),
    floorName: floorLogName,
    floor: () => service.upload(`log-${++imports}`, floorLog),
  };
}

/** A replay of a stored log by the demo's policies, from its order to its report. */
export async function serviceReplayPair(): Promise<Pair> {
  const service = await benchService();
  await storedLog();
  // Several behind each other, as they come while rules are tuned; and so that the compiler is done in time.
  const figure = async () => {
    for (let replay = 0; replay < REPLAYS; replay++) await service.replay(LOG);
  };
  return { name: 'replay-service', unit: UNIT, figure, times: REPLAYS, floorName, floor, floorTimes: 1 };
}

/** Pages of the requests of a replay, by filters of all kinds; the 95th percentile, against 300 ms. */
export async function requestsPage(): Promise<Figure> {
  const service = await benchService();
  await storedLog();
  const id = await service.replay(LOG);
  const took: number[] = [];
  for (let page = 0; page < PAGES; page++) {
    const started = performance.now();
    await service.call('GET', `/api/v1/replays/${id}/requests?limit=100&${FILTERS[page % FILTERS.length]}`);
    took.push(performance.now() - started);
  }
  took.sort((a, b) => a - b);
  const shown = {
    name: 'requests-page',
    unit: `ms at the 95th percentile, of ${UNIT.slice(7)}`,
    floorName: 'target',
  };
  return figureOf(shown, [took[Math.floor(PAGES * 0.95)] as number], [300]);
}

const FILTERS = [
  '',
  'verdict=block',
  'country=QN',
  'client=198.18.5.194',
  'client=198.18.250.250',
  'host=.fennelhill.example&status=404',
  'path=/book',
  'rule=sign-in-flood&role=observed',
  'category=wagering',
  'from=2026-11-14T00:00:00Z&verdict=allow',
  'host=no-such-host.example',
];

/** The log that is measured with, stored. */
export async function storedLog(): Promise<{ readonly log: string; readonly requests: number }> {
  const service = await benchService();
  const { logs } = await service.call<{ logs: { name: string }[] }>('GET', '/api/v1/logs');
  if (!logs.some(({ name }) => name === LOG)) await service.upload(LOG, jsonBytes());
  return { log: LOG, requests: REQUESTS };
}
