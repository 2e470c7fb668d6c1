import type { Server } from 'node:http';
import { type RuleCount } from '@jade-fence/contract';
import { type FlatRules, preparedRules } from '@jade-fence/core/engine';
import { Live } from '@jade-fence/core/live';
import type { Answer } from '@jade-fence/core/resolution';
import { pino } from 'pino';
import { awayDatabase, type Connection, openPools } from '../../database/connect.js';
import { seedHashesAtRandom } from '../../hash-secret.js';
import { keepCode } from '../../keeps-code.js';
import { Alerts } from '../../live/alerts.js';
import { Grants } from '../../live/grants.js';
import type { InForce } from '../../live/in-force.js';
import { LiveAnswers } from '../../live/live-answers.js';
import { Recorder } from '../../live/recorder.js';
import { WantedHosts } from '../../live/wanted-hosts.js';
import { answerCalls } from '../../worker/answer-calls.js';
import { close, listenAt } from '../listen.js';
import { readFlat } from './flat-file.js';
import { type GateParts, type GateServer, gateServer } from './server.js';

/** Decisions are recorded batch by batch; grants are requested now and then. */
const POOL = 4;

/** What the gate works with: the database; or what was kept of it, while it is away. Plain data. */
export type GateWork =
  | { readonly connection: Connection }
  | {
      readonly databaseUrl: string | undefined;
      /** The hashes of the tokens of gateways, and until when each holds (milliseconds). */
      readonly gateways: ReadonlyMap<string, number>;
      readonly grantKey: Uint8Array;
      readonly passcodes: ReadonlyMap<string, string>;
    };

/** What this service decided since it started. */
export interface GateCounts {
  /** The revision in force; null before the first publish. */
  readonly revision: number | null;
  readonly counts: readonly RuleCount[];
  /** Decisions that were to be recorded, and were too many. */
  readonly unrecorded: number;
}

seedHashesAtRandom();
keepCode();
const [logLevel = 'info'] = process.argv.slice(2);
const logger = pino({ level: logLevel, base: null }, pino.destination({ fd: 2, sync: true }));
process.on('unhandledRejection', (error) => logger.error({ err: error }, 'something failed that nobody waited for'));
// It ends with the service, however that ends, and not before it.
process.on('disconnect', () => process.exit());
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => undefined);

const rules: { current: InForce | undefined } = { current: undefined };
const wanted = new WantedHosts();
const answers = new LiveAnswers();
const want = (host: string): void => wanted.want(host, performance.now());
let gate: GateServer | undefined;
let server: Server | undefined;
/** What there is to end of what is worked with. */
let working: { readonly recorder?: Recorder; readonly end: () => Promise<void> } | undefined;
let reload: () => Promise<void> = async () => undefined;

const CALLS = {
  /** Works with this from the next call on. */
  async use(work: GateWork): Promise<void> {
    const parts = 'connection' in work ? await withDatabase(work.connection) : withoutDatabase(work);
    const before = working;
    working = parts;
    if (gate) gate.use(parts.parts);
    else gate = gateServer(parts.parts);
    server = gate.server;
    await before?.end();
  },

  /** Answers the URL; or why nobody can listen there. */
  async open(host: string, port: number): Promise<{ readonly url: string } | { readonly code: string }> {
    try {
      return { url: await listenAt(server as Server, { host, port }) };
    } catch (error) {
      return { code: (error as NodeJS.ErrnoException).code ?? String(error) };
    }
  },

  /** Decides by the rules in the file from the next call on. Counts under limits carry over. */
  async decideBy(revision: number, path: string): Promise<void> {
    const flat = (await readFlat(path)) as FlatRules;
    const prepared = preparedRules({ ...flat, resolutions: answers.of(flat.resolutions) });
    rules.current = { revision, live: new Live(prepared, rules.current?.live, want) };
  },

  /** Hosts that requests went to and nobody has looked up, as soon as there are any; none after a while. */
  hostsToResolve: (): Promise<string[]> => wanted.take(),

  /** Decides by these answers too from the next request on. */
  addAnswers(more: readonly Answer[], load: number | undefined): void {
    answers.add(more, load);
  },

  /** Takes the key of grants and the versions of passcodes that the database has now. */
  reloadGrants: (): Promise<void> => reload(),

  counts(): GateCounts {
    const { recorder } = working ?? {};
    const revision = rules.current?.revision ?? null;
    return { revision, counts: recorder?.counts ?? [], unrecorded: recorder?.unrecorded ?? 0 };
  },

  /** Answers who has asked, writes down what is to be recorded, and lets go of the database. */
  async close(): Promise<void> {
    if (server?.listening) await close(server);
    await working?.end();
  },
};

export type GateCalls = typeof CALLS;

type Working = NonNullable<typeof working> & { readonly parts: GateParts };

async function withDatabase(connection: Connection): Promise<Working> {
  const { knex, urgent, close: letGo } = openPools(connection, POOL);
  const grants = await Grants.of(knex).catch(async (error) => {
    await letGo();
    throw error;
  });
  reload = () => grants.reload(knex);
  const alerts = new Alerts(knex, logger);
  alerts.open();
  const recorder = new Recorder(knex, alerts, logger);
  recorder.open();
  const end = async () => {
    await recorder.close();
    await alerts.close();
    await letGo();
  };
  return { recorder, end, parts: { knex, urgent, rules, recorder, grants, logger } };
}

function withoutDatabase({
  databaseUrl,
  gateways,
  grantKey,
  passcodes,
}: Exclude<GateWork, { connection: Connection }>): Working {
  const away = awayDatabase(databaseUrl);
  const grants = new Grants(Buffer.from(grantKey), passcodes);
  // Nothing can be written down meanwhile.
  const recorder = { note: () => undefined };
  const parts = { knex: away, urgent: away, rules, recorder, grants, logger, kept: gateways };
  return { end: () => away.destroy(), parts };
}

answerCalls(CALLS);
