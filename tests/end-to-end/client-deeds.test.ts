import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createServer, type RequestListener } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CLIENT, runClient, startGarden, type TestService } from '../setup/service.js';
import { atTerminal } from '../setup/terminal.js';

/** What the client does by itself, beside asking the service: its commands as a whole, and how it meets a terminal. */
let service: TestService;
let folder: string;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-deeds-'));
  service = await startGarden();
});
afterAll(async () => {
  await service?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const own = (): NodeJS.ProcessEnv => ({ HOME: folder, XDG_CONFIG_HOME: '', XDG_DATA_HOME: join(folder, 'none') });
const textOf = async (kind: string, name: string): Promise<string> =>
  (await service.call('GET', `/api/v1/objects/${kind}/${name}`)).body.text;

const keyed = (key = 'a-key', url = service.url) => ({ ...own(), JADE_FENCE_URL: url, JADE_FENCE_KEY: key });

/** A server in place of the service, which answers as it is given. */
async function answering(listener: RequestListener): Promise<{ readonly url: string; readonly close: () => void }> {
  const server = createServer(listener).listen(0, '127.0.0.1');
  await once(server, 'listening');
  const close = () => {
    server.close();
    server.closeAllConnections();
  };
  return { url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, close };
}

/** A client that goes on until it is interrupted. */
function start(...args: readonly string[]) {
  const child = spawn(process.execPath, [CLIENT, '--service', service.url, ...args], {
    env: { ...process.env, NO_COLOR: '1', JADE_FENCE_KEY: service.key },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let out = '';
  child.stdout.on('data', (piece: Buffer) => {
    out += piece.toString();
  });
  return {
    out: () => out,
    /** Interrupts it, and answers what it ends with. */
    interrupt: async (): Promise<number | null> => {
      child.kill('SIGINT');
      const [code] = (await once(child, 'close')) as [number | null];
      return code;
    },
  };
}

describe('commands', () => {
  it('say which verbs there are, and what was meant', async () => {
    const alone = await runClient(['policy']);
    expect([alone.code, alone.err]).toEqual([2, expect.stringContaining('one policy, its rules in order')]);
    expect((await runClient(['polcy', 'list'])).err).toContain('Did you mean policy?');
    expect((await runClient(['policy', 'shw'])).err).toContain('Did you mean show?');
  });

  it('say the version of the package, and can be quiet', async () => {
    const { version } = JSON.parse(readFileSync(new URL('../../cli/package.json', import.meta.url), 'utf8'));
    expect((await runClient(['--version'])).out.trim()).toBe(version);
    expect((await service.call('GET', '/api/v1/openapi.json')).body.info.version).toBe(version);
    expect(await service.client('policy', 'list', '-q')).toEqual({ code: 0, out: '', err: '' });
    expect((await service.client('policy', 'show', 'none', '-q')).err).toContain('There is no policy `none`');
  });

  it('list what there is of policies, lists, objects and checks', async () => {
    expect((await service.client('policy', 'list')).out).toMatch(/visitor-web +\d+ +block/);
    expect((await service.client('list', 'list')).out).toMatch(/home-workers +addresses +\d/);
    expect((await service.client('object', 'list', 'probe')).out).toMatch(/^probe +visitor-phone +20\d\d-/m);
    expect((await service.client('check', 'list')).out).toMatch(/check +what-visitors-reach/);
  });
});

describe('what is no service of ours', () => {
  it('is called so: another server, half an answer, and a key that cannot be sent', async () => {
    const other = await answering((_request, response) => void response.end('<html>Welcome</html>'));
    const half = await answering((_request, response) => {
      response.writeHead(200, { 'content-length': 1000 }).write('{');
      setTimeout(() => response.destroy(), 100);
    });
    const asked = (url: string, key?: string) => runClient(['list', 'list'], keyed(key, url));
    const [first, second, third] = [await asked(other.url), await asked(half.url), await asked(other.url, 'ключ')];
    for (const each of [other, half]) each.close();
    expect([first.code, first.err]).toEqual([3, expect.stringContaining('is no Jade Fence service')]);
    expect([second.code, second.err]).toEqual([3, expect.stringContaining('No service answers')]);
    expect([third.code, third.err]).toEqual([3, expect.stringContaining('has characters that no key has')]);
  });
});

describe('small edits', () => {
  it('change one entry in one step, and keep the rest of it', async () => {
    await service.client('entry', 'add', 'home-workers', '203.0.113.77', '--note', 'visiting botanist');
    const set = (...args: readonly string[]) => service.client('entry', 'set', 'home-workers', ...args);
    expect((await set('203.0.113.77', '--to', '203.0.113.78', '--until', '2027-06-01')).code).toBe(0);
    expect(await textOf('list', 'home-workers')).toMatch(
      /entry: 203\.0\.113\.78, note: visiting botanist, until: 2027-06-01T00:00:00/,
    );
    expect((await set('203.0.113.78', '--until', 'always', '--note', '')).code).toBe(0);
    expect(await textOf('list', 'home-workers')).toMatch(/- 203\.0\.113\.78$/m);
    expect((await set('203.0.113.78')).code).toBe(2);
    expect((await set('203.0.113.79', '--note', 'x')).err).toContain('has no entry `203.0.113.79`');
    await service.client('entry', 'add', 'home-workers', '203.0.113.80');
    expect((await set('203.0.113.80', '--to', '203.0.113.78')).out).toMatch(
      /^Removed .*\nThere already: 203\.0\.113\.78/,
    );
    await service.client('entry', 'remove', 'home-workers', '203.0.113.78');
  });

  it('move a rule, and leave all else of the policy to the letter', async () => {
    const before = await textOf('policy', 'visitor-web');
    const order = (text: string) => [...text.matchAll(/- rule: (\S+)/g)].map(([, rule]) => rule);
    const move = (...args: readonly string[]) => service.client('rule', 'move', 'visitor-web', ...args);
    const last = order(before).at(-1) as string;
    const [first, second] = order(before) as [string, string];
    expect((await move(last, '--above', second)).out).toContain(`to 2 of visitor-web`);
    expect(order(await textOf('policy', 'visitor-web')).slice(0, 3)).toEqual([first, last, second]);
    expect((await move(first, '--below', last)).code).toBe(0);
    expect((await move(first, '--to', '1')).code).toBe(0);
    expect((await move(last, '--to', String(order(before).length))).code).toBe(0);
    const lines = (text: string) => text.split('\n').filter((line) => line !== '');
    expect(lines(await textOf('policy', 'visitor-web'))).toEqual(lines(before));
    expect((await move(last)).err).toContain('--above RULE');
    expect((await move('nobody', '--to', '1')).err).toContain('has no rule `nobody`');
    expect((await move(last, '--to', '999')).err).toContain('Give a place from 1 to');
  });

  it('remove an object, after a question, unless others use it', async () => {
    expect((await service.client('object', 'remove', 'probe', 'visitor-phone')).code).toBe(4);
    expect((await service.client('object', 'remove', 'list', 'home-workers', '-y')).code).not.toBe(0);
    const text = 'probe: spare\nclient: 198.18.4.1\n';
    await service.call('PUT', '/api/v1/objects/probe/spare', { text }, { 'if-none-match': '*' });
    expect((await service.client('object', 'remove', 'probe', 'spare', '-y')).out).toContain('Removed probe spare');
    expect((await service.call('GET', '/api/v1/objects/probe/spare')).status).toBe(404);
  });
});

describe('what goes on', () => {
  it('is watched: checks, with the first that fails, until it is interrupted', async () => {
    const watch = start('check', 'run', '--watch', '1');
    // The garden comes with a rule that stands below one that decides before it.
    await expect.poll(watch.out).toMatch(/visitor-phone at betting: expected block, got allow {2}the first to fail/);
    await service.client('rule', 'move', 'visitor-web', 'no-wagering', '--above', 'web-for-all');
    await expect.poll(watch.out).toMatch(/✓ .*\n {4}what-visitors-reach: visitor-phone at betting: as expected again/);
    expect(await watch.interrupt()).toBe(130);
    expect(watch.out().match(/the first to fail/g)).toHaveLength(1);
  });

  it('goes on when a service that was there is away, and ends where the key is wrong', async () => {
    const checks = JSON.stringify({ state: 'draft', checks: [], failing: 0 });
    const answers = [checks, undefined, undefined, checks, '{"code":"unauthorized","detail":"The key is wrong."}'];
    const stub = await answering((_request, response) => {
      const [answer] = answers.splice(0, 1);
      if (answer === undefined) response.destroy();
      else response.writeHead(answers.length === 0 ? 401 : 200).end(answer);
    });
    const watched = await runClient(['--service', stub.url, 'check', 'run', '--watch', '1'], keyed());
    stub.close();
    expect([watched.code, watched.err]).toEqual([3, expect.stringContaining('The key is wrong.')]);
    expect(watched.out.match(/0 of 0 answers are as expected/g)).toHaveLength(2);
    expect(watched.err.match(/Waiting for it/g)).toHaveLength(1);
    for (const args of [
      ['check', 'run', '--watch'],
      ['decision', 'list', '--follow'],
    ]) {
      expect((await runClient(['--service', 'http://127.0.0.1:1', ...args], keyed())).code).toBe(3);
      expect((await runClient(['--service', service.url, ...args], keyed('wrong'))).code).toBe(3);
    }
  });

  it('is followed: decisions as they come', async () => {
    const published = await service.client('revision', 'publish', '-m', 'To be followed', '--accept-warnings');
    expect([published.code, published.err]).toEqual([0, '']);
    const follow = start('decision', 'list', '--follow', '--verdict', 'block');
    const decide = (path: string) =>
      service.ask('POST', '/decide', { peer: '198.18.4.21', host: 'staging.fennelhill.example', path, method: 'GET' });
    // Rules that are in force a moment later let nothing through until then, and record nothing.
    for (let turn = 0; turn < 100 && !follow.out().includes('/first'); turn++) {
      await decide('/first');
      await sleep(200);
    }
    await decide('/second');
    await expect.poll(follow.out).toContain('/second');
    expect(follow.out().indexOf('/first')).toBeLessThan(follow.out().indexOf('/second'));
    expect(await follow.interrupt()).toBe(130);
  });

  it('is written as JSON Lines, all pages of it', async () => {
    const { out } = await service.client('request', 'list', '--verdict', 'allow', '--jsonl');
    const lines = out.trim().split('\n');
    const { body } = await service.call('GET', '/api/v1/replays/1/report');
    expect(body.verdicts.allow).toBeGreaterThan(1000);
    expect(lines).toHaveLength(body.verdicts.allow);
    expect(new Set(lines.map((line) => JSON.parse(line).number)).size).toBe(lines.length);
    expect(lines.every((line) => JSON.parse(line).verdict === 'allow')).toBe(true);
  });

  it('ends with 130 when it is interrupted, and a replay is cancelled', async () => {
    const file = join(folder, 'long.jsonl');
    const line = '{"time":"2026-11-12T00:00:00Z","client":"198.18.4.20","host":"tickets.fennelhill.example"}\n';
    writeFileSync(file, line.repeat(400_000));
    expect((await service.client('log', 'import', file)).code).toBe(0);
    const replay = start('replay', 'run', 'long');
    const newest = async () => (await service.call('GET', '/api/v1/replays')).body.replays[0];
    await expect.poll(async () => (await newest()).logs).toEqual(['long']);
    const code = await replay.interrupt();
    await expect.poll(async () => (await newest()).state).not.toMatch(/waiting|running/);
    // A machine that is fast enough has ended it before.
    const { state } = await newest();
    expect(state === 'cancelled' ? [130] : [0, 130]).toContain(code);
  });
});

describe('signing in', () => {
  const profiles = () => join(folder, '.config', 'jade-fence', 'profiles.json');

  it('keeps a token of its own for a person, which signing out removes', async () => {
    const body = { name: 'ines', role: 'editor', password: 'a long enough password' };
    expect((await service.call('POST', '/api/v1/people', body)).status).toBe(201);
    const login = ['login', service.url, '--user', 'ines', '--as', 'garden'];
    const wrong = await runClient(login, own(), 'another password\n');
    expect([wrong.code, existsSync(profiles())]).toEqual([3, false]);
    const ran = await runClient(login, own(), 'a long enough password\n');
    expect([ran.code, ran.out]).toEqual([0, expect.stringContaining('as ines, editor')]);
    expect(statSync(profiles()).mode & 0o777).toBe(0o600);
    expect(readFileSync(profiles(), 'utf8')).not.toContain('a long enough password');
    expect((await runClient(['list', 'list'], own())).out).toContain('home-workers');
    expect((await runClient(['token', 'list'], own())).out).toContain('client on ');
    expect((await runClient(['session', 'list'], own())).out).toContain('You have no sessions.');
    expect((await runClient(login, own(), 'a long enough password\n')).code).toBe(0);
    expect((await runClient(['token', 'list'], own())).out.match(/client on /g)).toHaveLength(1);
    const changed = await runClient(['person', 'password'], own(), 'a long enough password\na password from now on\n');
    expect([changed.code, changed.out]).toEqual([0, 'Your password is changed.\n']);
    const stale = await runClient(['person', 'password'], own(), 'a long enough password\nand yet another one\n');
    expect([stale.code, stale.out]).toEqual([4, '']);
    expect((await runClient(login, own(), 'a long enough password\n')).code).toBe(3);
    const back = await runClient(['person', 'password'], own(), 'a password from now on\na long enough password\n');
    expect(back.code).toBe(0);
    const unwritable = { ...own(), XDG_CONFIG_HOME: '/dev/null' };
    expect((await runClient(login, unwritable, 'a long enough password\n')).code).toBe(1);
    expect((await runClient(['token', 'list'], own())).out.match(/client on /g)).toHaveLength(1);
    const out = await runClient(['logout'], own());
    expect(out.out).toContain('removed its token');
    expect((await runClient(['list', 'list'], own())).code).toBe(3);
  });

  it('keeps keys by name, and sends none to another service', async () => {
    const keyed = await runClient(['login', service.url, '--as', 'by-key'], own(), `${service.key}\n`);
    expect([keyed.code, keyed.out]).toEqual([0, expect.stringContaining('as administrator')]);
    expect((await runClient(['profile', 'list'], own())).out).toMatch(/\* +by-key +http/);
    const away = await runClient(['--service', 'http://127.0.0.1:1', 'list', 'list'], own());
    expect([away.code, away.err]).toEqual([3, expect.stringContaining('There is no access key')]);
    // A key of the environment is for a service that is named, and not for that of the profile.
    const other = { ...own(), JADE_FENCE_KEY: 'of-another-service' };
    expect((await runClient(['list', 'list'], other)).code).toBe(0);
    expect((await runClient(['--service', service.url, 'list', 'list'], other)).code).toBe(3);
    // The key of a service on this machine goes to no other machine.
    const data = join(folder, 'data');
    mkdirSync(join(data, 'jade-fence'), { recursive: true });
    writeFileSync(join(data, 'jade-fence', 'access-key'), service.key);
    const local = { ...own(), XDG_DATA_HOME: data, XDG_CONFIG_HOME: join(folder, 'no-profiles') };
    expect((await runClient(['--service', service.url, 'list', 'list'], local)).code).toBe(0);
    const far = await runClient(['--service', 'http://192.0.2.1:7440', 'list', 'list'], local);
    expect([far.code, far.err]).toEqual([3, expect.stringContaining('There is no key for http://192.0.2.1:7440')]);
    expect((await runClient(['--profile', 'none', 'list', 'list'], own())).err).toContain('There are: by-key.');
    expect((await runClient(['profile', 'set', 'by-key'], own())).out).toContain('Commands go to');
    expect((await runClient(['login', 'nowhere'], own(), 'x\n')).err).toContain('is no address of a service');
    const open = await runClient(['login', 'http://fence.fennelhill.example'], own(), 'x\n');
    expect([open.code, open.err]).toEqual([2, expect.stringContaining('--allow-http')]);
    expect((await runClient(['login', service.url, '--as', 'two words'], own(), 'x\n')).code).toBe(2);
    expect((await runClient(['login', service.url], own(), '\n')).err).toContain('The access key is empty');
    expect((await runClient(['logout', 'by-key'], own())).code).toBe(0);
    writeFileSync(profiles(), '{broken');
    expect((await runClient(['list', 'list'], own())).err).toContain('sign in again');
    rmSync(profiles());
  });
});

describe('completion', () => {
  const complete = async (...words: readonly string[]): Promise<string[]> => {
    const env = { ...own(), JADE_FENCE_URL: service.url, JADE_FENCE_KEY: service.key };
    const { out } = await runClient(['complete', '--', ...words], env);
    return out.split('\n').map((line) => line.split('\t')[0] as string);
  };

  it('offers nouns, verbs, options, and names of the service', async () => {
    expect(await complete('pol')).toContain('policy');
    expect(await complete('list', '')).toEqual(expect.arrayContaining(['list', 'show']));
    expect(await complete('replay', 'run', '--st')).toContain('--state');
    expect(await complete('list', 'show', 'home')).toContain('home-workers');
    expect(await complete('entry', 'add', 'home')).toContain('home-workers');
    expect(await complete('rule', 'move', 'visitor-web', 'no-')).toContain('no-wagering');
    expect(await complete('replay', 'run', '')).toContain('week');
  });

  it('goes on without a service, or with a slow one, and has scripts for shells', async () => {
    const slow = await answering(() => {});
    const patient = await runClient(['complete', '--', 'list', 'show', ''], keyed('key', slow.url));
    slow.close();
    expect([patient.code, patient.err]).toEqual([0, '']);
    const unknown = await runClient(['complete', '--', 'list', 'show', ''], { ...own(), JADE_FENCE_PROFILE: 'none' });
    expect([unknown.code, unknown.err]).toEqual([0, '']);
    const away = await runClient(['complete', '--', 'list', 'show', ''], {
      ...own(),
      JADE_FENCE_URL: 'http://127.0.0.1:1',
    });
    expect(away.code).toBe(0);
    for (const shell of ['bash', 'zsh', 'fish'])
      expect((await runClient(['complete', shell])).out).toContain('jade-fence');
    expect((await runClient(['complete', 'csh'])).code).toBe(2);
  });
});

describe('at a terminal', () => {
  const at = (args: readonly string[], env: NodeJS.ProcessEnv, screen: { rows: number; columns: number }) =>
    atTerminal(['--service', service.url, ...args], { JADE_FENCE_KEY: service.key, ...env }, [], screen);

  it('shows what is longer than the screen in the pager, and what is not as it is', async () => {
    const PAGER = 'sed s/^/paged:/';
    expect(await at(['policy', 'show', 'visitor-web'], { PAGER }, { rows: 10, columns: 100 })).toContain('paged:');
    expect(await at(['policy', 'show', 'visitor-web'], { PAGER: '' }, { rows: 10, columns: 100 })).not.toContain(
      'paged:',
    );
    expect(await at(['policy', 'list'], { PAGER }, { rows: 50, columns: 200 })).not.toContain('paged:');
    const gone = await at(['policy', 'show', 'visitor-web'], { PAGER: '/no/such/pager' }, { rows: 10, columns: 100 });
    expect(gone).toContain('no-wagering');
  });

  it('breaks sentences at blanks, and documents nowhere', async () => {
    const narrow = await at(['request', 'explain', '--request', '28'], { PAGER: '' }, { rows: 500, columns: 60 });
    const prose = narrow.split(/\r?\n/).filter((line) => !/\S {2,}\S/.test(line.trim()));
    expect(prose.filter((line) => line.length > 60 && line.trim().includes(' '))).toEqual([]);
    const text = await at(['policy', 'show', 'visitor-web', '--text'], { PAGER: '' }, { rows: 500, columns: 60 });
    expect(text.replaceAll('\r\n', '\n')).toBe(await textOf('policy', 'visitor-web'));
  });
});
