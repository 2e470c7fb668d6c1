import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type IncomingHttpHeaders, type Server } from 'node:http';
import { type AddressInfo, connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { launchBrowser } from '../setup/browser.js';
import { freePort, Servers } from '../setup/servers.js';
import { startService, type TestService } from '../setup/service.js';

/** Real web servers that ask before they let a request through, by the configurations of docs/gateways.md as they are. */
const folder = mkdtempSync(join(tmpdir(), 'jade-fence-web-'));
const GUIDE = readFileSync(new URL('../../docs/gateways.md', import.meta.url), 'utf8');
const configurationOf = (language: string): string =>
  new RegExp(`\`\`\`${language}\n([\\s\\S]*?)\`\`\``).exec(GUIDE)?.[1] as string;

let service: TestService;
let site: Server;
const reached: { url: string; headers: IncomingHttpHeaders }[] = [];
const servers = new Servers(folder);

const POLICY = `policy: ticket-site
covers: {hosts: [tickets.fennelhill.example, tickets.localhost]}
client: {from: forwarded, trust: [10.10.1.0/24]}
default: allow
rules:
  - {rule: abroad, when: {client: [198.18.0.0/16]}, then: block}
  - {rule: back-office, when: {path: ["/back-office/**"]}, then: {block: {status: 451, notice: not-here}}}
  - {rule: moved, when: {path: [/old]}, then: {redirect: {to: "https://www.fennelhill.example/new", status: 308}}}
  - {rule: sure, when: {path: [/sure]}, then: {confirm: {for: 1h}}}
  - {rule: members, when: {path: [/members]}, then: {unlock: {passcode: gardeners, for: 1h}}}
  - {rule: browsers, when: {path: [/browsers]}, then: challenge}
---
notice: not-here
title: Not open to you
text: "{rule} says so of {host}{path}."
`;

beforeAll(async () => {
  service = await startService();
  expect((await service.call('PUT', '/api/v1/workspace', { files: [{ name: 'a.yaml', text: POLICY }] })).status).toBe(
    200,
  );
  expect((await service.call('POST', '/api/v1/revisions', { message: 'Open', acceptWarnings: true })).status).toBe(201);
  expect((await service.call('PUT', '/api/v1/passcodes/gardeners', { passcode: 'moss on stone' })).status).toBe(204);
  while ((await service.ask('POST', '/decide', { host: 'a.example' })).status !== 200) await sleep(20);
  site = createServer((request, response) => {
    reached.push({ url: request.url ?? '', headers: request.headers });
    response.end(`the site's ${request.url}`);
  });
  await new Promise<void>((done) => site.listen(0, '127.0.0.1', done));
});
afterAll(async () => {
  await servers.end();
  site?.close();
  await service?.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** The configuration with its ports and its token put in. */
async function configured(language: string): Promise<{ text: string; port: number }> {
  const port = await freePort();
  const text = configurationOf(language)
    .replaceAll('127.0.0.1:7441', new URL(service.gateUrl).host)
    .replaceAll('127.0.0.1:8081', `127.0.0.1:${(site.address() as AddressInfo).port}`)
    .replaceAll(':8080', `:${port}`)
    .replaceAll('TOKEN', await service.gatewayToken());
  return { text, port };
}

async function startNginx(): Promise<number> {
  const { text, port } = await configured('nginx');
  const at = (name: string) => join(folder, name);
  const paths = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
    (name) => `${name}_temp_path ${at(`nginx-${name}`)};`,
  );
  const root = process.getuid?.() === 0 ? 'user root;\n' : '';
  const file = `${root}daemon off;\npid ${at('nginx.pid')};\nerror_log stderr warn;\nevents {}\nhttp {\naccess_log off;\n${paths.join('\n')}\n${text}}\n`;
  writeFileSync(at('nginx.conf'), file);
  await servers.start(
    process.getuid?.() === 0 ? '/usr/sbin/nginx' : 'nginx',
    ['-p', folder, '-c', at('nginx.conf')],
    port,
  );
  return port;
}

async function startCaddy(): Promise<number> {
  const { text: guide, port } = await configured('caddyfile');
  const site = `http://tickets.fennelhill.example:${port}`;
  const text = guide.replace(site, `${site}, http://tickets.localhost:${port}`);
  writeFileSync(join(folder, 'Caddyfile'), `{\n  admin off\n  auto_https off\n}\n${text}`);
  await servers.start('caddy', ['run', '--config', join(folder, 'Caddyfile'), '--adapter', 'caddyfile'], port);
  return port;
}

describe.each([
  ['nginx', startNginx],
  ['Caddy', startCaddy],
])('%s', (_, startServer) => {
  let port: number;
  beforeAll(async () => {
    port = await startServer();
  });

  /** Asks the site as a client does; `fetch` lets nobody choose a host. */
  const ask = (path: string, headers: Record<string, string> = {}, method = 'GET', body = ''): Promise<Answer> =>
    new Promise((done, failed) => {
      const lines = Object.entries({ host: 'tickets.fennelhill.example', connection: 'close', ...headers });
      const length =
        body === '' ? '' : `content-type: application/x-www-form-urlencoded\r\ncontent-length: ${body.length}\r\n`;
      const socket = connect(port, '127.0.0.1', () =>
        socket.write(
          `${method} ${path} HTTP/1.1\r\n${lines.map((line) => line.join(': ')).join('\r\n')}\r\n${length}\r\n${body}`,
        ),
      );
      let text = '';
      socket.on('data', (piece) => {
        text += piece;
      });
      socket.on('error', failed).on('close', () => done(answerIn(text)));
    });

  it('lets through what the rules allow, and shows the site who the client is', async () => {
    reached.length = 0;
    expect(await ask('/whats-on?day=2')).toMatchObject({
      status: 200,
      body: expect.stringContaining("the site's /whats-on"),
    });
    expect(reached.map(({ url }) => url)).toEqual(['/whats-on?day=2']);
  });

  it('stops what they block, with its status and notice, however it is written', async () => {
    reached.length = 0;
    for (const path of [
      '/back-office/x',
      '//back-office/x',
      '/%62ack-office/x',
      '/x/../back-office/x',
      '/back-office/.%2%65/x',
    ]) {
      const answer = await ask(path, { accept: 'text/html' });
      // Some spellings a server refuses itself.
      expect([path, [451, 400].includes(answer.status)]).toEqual([path, true]);
    }
    const shown = await ask('/back-office/x', { accept: 'text/html' });
    expect(shown.body).toContain('<h1>Not open to you</h1>');
    expect(shown.body).toContain('back-office says so of tickets.fennelhill.example/back-office/x.');
    expect(await ask('/back-office/x', { accept: 'application/json' })).toMatchObject({
      status: 451,
      headers: { 'content-type': 'application/problem+json' },
    });
    expect(reached).toEqual([]);
  });

  it('sends on where they redirect', async () => {
    expect(await ask('/old')).toMatchObject({
      status: 308,
      headers: { location: 'https://www.fennelhill.example/new' },
    });
  });

  it('takes nobody’s word for who they are', async () => {
    for (const header of ['10.10.1.4', '198.18.4.4, 10.10.1.4', '", 10.10.1.4', 'for=10.10.1.4'])
      expect((await ask('/whats-on', { 'x-forwarded-for': header, forwarded: header })).status).toBe(200);
    for (const name of [
      'x-forwarded-uri',
      'x-forwarded-host',
      'x-forwarded-method',
      'x-jade-fence-notice',
      'authorization',
    ])
      expect((await ask('/back-office/x', { [name]: '/whats-on' })).status).toBe(451);
  });

  it('asks for a yes and a passcode, and lets through who gives them', async () => {
    const asked = await ask('/sure', { accept: 'text/html' });
    expect(asked.status).toBe(403);
    const form = /action="([^"]+)"/.exec(asked.body)?.[1] as string;
    const said = await ask(form, {}, 'POST', 'yes=true');
    expect([said.status, said.headers.location]).toEqual([303, '/sure']);
    const cookie = (said.headers['set-cookie'] ?? '').split(';')[0] as string;
    expect((await ask('/sure', { cookie })).status).toBe(200);
    expect((await ask('/members', { cookie, accept: 'text/html' })).status).toBe(403);
    const locked = await ask('/members', { accept: 'text/html' });
    const action = /action="([^"]+)"/.exec(locked.body)?.[1] as string;
    const wrong = await ask(action, { accept: 'text/html' }, 'POST', 'passcode=moss');
    expect([wrong.status, wrong.body.includes('That is not the passcode.')]).toEqual([403, true]);
    const right = await ask(action, { cookie }, 'POST', 'passcode=moss+on+stone');
    const both = (right.headers['set-cookie'] ?? '').split(';')[0] as string;
    for (const path of ['/sure', '/members']) expect((await ask(path, { cookie: both })).status).toBe(200);
  });

  it('lets a browser through that solves the challenge', async () => {
    // Browsers hash for pages of https only, and for those of their own machine.
    const origin = `http://tickets.localhost:${port}`;
    const browser = await launchBrowser();
    try {
      reached.length = 0;
      const page = await browser.newPage();
      expect((await page.goto(`${origin}/browsers`))?.status()).toBe(403);
      await page.getByText("the site's /browsers").waitFor({ timeout: 30_000 });
      expect(reached.map(({ url }) => url)).toContain('/browsers');
    } finally {
      await browser.close();
    }
  });

  it('answers nobody at the address by which it asks', async () => {
    for (const path of [
      '/.jade-fence/gate',
      '/.jade-fence/notice/',
      '/.jade-fence/notice/a.b',
      '/.jade-fence/notice/../gate',
    ]) {
      const { status } = await ask(path);
      expect([path, status >= 400 || reached.at(-1)?.url === path]).toEqual([path, true]);
    }
  });
});

interface Answer {
  readonly status: number;
  readonly headers: Readonly<Record<string, string>>;
  readonly body: string;
}

function answerIn(text: string): Answer {
  const [head = '', ...rest] = text.split('\r\n\r\n');
  const [first = '', ...lines] = head.split('\r\n');
  const headers = lines
    .map((line) => line.split(': '))
    .map(([name = '', ...value]) => [name.toLowerCase(), value.join(': ')]);
  return { status: Number(first.split(' ')[1]), headers: Object.fromEntries(headers), body: rest.join('\r\n\r\n') };
}
