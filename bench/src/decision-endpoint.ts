import { spawn } from 'node:child_process';
import { once } from 'node:events';
import autocannon from 'autocannon';
import { largeLog } from './large/log.js';
import { largeWorkspaceFiles } from './large/workspace.js';
import { type Figure, figureOf } from './measure.js';
import { benchService } from './service.js';

const RULES = 200;
/** Each connection prepares them all before it begins. */
const REQUESTS = 500;
const CONNECTIONS = 16;
/** Of each round: many short ones in turn, since machines change their pace. */
const SECONDS = 3;
const ROUNDS = 5;
const SETTLE_MS = 2000;

interface Load {
  /** Microseconds of each request, at the rate that was reached. */
  readonly each: number;
  /** Milliseconds, of the slowest hundredth. */
  readonly slowest: number;
}

/** Live decisions by 200 rules, beside a bare handler of Express, by the same load: the rate, and the slowest hundredth. */
export async function decisionEndpoint(): Promise<Figure[]> {
  const service = await benchService();
  await service.call('PUT', '/api/v1/workspace', { files: largeWorkspaceFiles(RULES), exact: true });
  await service.call('POST', '/api/v1/revisions', { message: 'Measured', acceptWarnings: true });
  const { secret } = await service.call<{ secret: string }>('POST', '/api/v1/tokens', {
    name: 'bench',
    kind: 'gateway',
  });
  const headers = { authorization: `Bearer ${secret}` };
  await new Promise((done) => setTimeout(done, SETTLE_MS));
  const floor = spawn(process.execPath, [new URL('./express-floor.js', import.meta.url).pathname], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const [port] = (await once(floor.stdout, 'data')) as [Buffer];
  const bodies = [...largeLog(REQUESTS)].map((request) => JSON.stringify(fieldsOf(request)));
  const figures: Load[] = [];
  const floors: Load[] = [];
  for (let round = -1; round < ROUNDS; round++) {
    const figure = await load(service.gateUrl, headers, bodies);
    const bare = await load(`http://127.0.0.1:${String(port).trim()}`, {}, bodies);
    if (round < 0) continue;
    figures.push(figure);
    floors.push(bare);
  }
  floor.kill();
  const shown = { floorName: 'a bare handler of Express' };
  const of = (loads: readonly Load[], what: keyof Load) => loads.map((each) => each[what]);
  return [
    figureOf(
      { ...shown, name: 'decision-endpoint', unit: 'µs for a decision, at the highest rate' },
      of(figures, 'each'),
      of(floors, 'each'),
    ),
    figureOf(
      { ...shown, name: 'decision-endpoint-p99', unit: 'ms, 99th percentile' },
      of(figures, 'slowest'),
      of(floors, 'slowest'),
    ),
  ];
}

async function load(url: string, headers: Record<string, string>, bodies: readonly string[]): Promise<Load> {
  const { duration, requests, latency, non2xx, errors } = await autocannon({
    // So that what the load costs its sender, which has one core of two, does not hide what an answer costs.
    pipelining: 8,
    url: `${url}/decide`,
    method: 'POST',
    connections: CONNECTIONS,
    duration: SECONDS,
    headers: { ...headers, connection: 'keep-alive', 'content-type': 'application/json' },
    requests: bodies.map((body) => ({ body })),
  });
  if (non2xx > 0 || errors > 0) throw new Error(`${non2xx} answers were refused, and ${errors} failed`);
  return { each: (1e6 * duration) / requests.total, slowest: latency.p99 };
}

/** A request as a gateway sends it. */
function fieldsOf(request: ReturnType<typeof largeLog> extends Iterable<infer R> ? R : never): Record<string, unknown> {
  const { peer, method, scheme, host, path, agent } = request;
  const address = peer?.family === 4 ? [24, 16, 8, 0].map((bits) => (peer.value >>> bits) & 255).join('.') : undefined;
  return { peer: address, method, scheme, host, path, agent };
}
