import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { freePort, Servers } from '../setup/servers.js';
import { startService, type TestService } from '../setup/service.js';

/**
 * Logs that real web servers write of awkward requests, each in its default format and in JSON: what is read is what was
 * sent. The table of docs/logs.md is held to it.
 */
const folder = mkdtempSync(join(tmpdir(), 'jade-fence-writers-'));
const at = (name: string) => join(folder, name);
const isRoot = process.getuid?.() === 0;
let service: TestService;
const servers = new Servers(folder);

beforeAll(async () => {
  chmodSync(folder, 0o755);
  mkdirSync(at('www'));
  service = await startService();
});
afterAll(async () => {
  await servers.end();
  await service?.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** A request as its bytes, and what a log that has these fields should be read as. */
interface Sent {
  readonly name: string;
  readonly bytes: Buffer;
  /** Sent over IPv6. */
  readonly six?: boolean;
  readonly fields: Readonly<Record<string, unknown>>;
}

const HOST = 'tickets.fennelhill.example';
const sent = (
  name: string,
  target: string,
  more: Readonly<Record<string, string>>,
  fields: object,
  six = false,
): Sent => {
  const headers = { host: HOST, 'user-agent': name, connection: 'close', ...more };
  const lines = Object.entries(headers).map(([key, value]) => `${key}: ${value}\r\n`);
  const bytes = Buffer.from(`GET ${target} HTTP/1.1\r\n${lines.join('')}\r\n`);
  const known = { method: 'GET', protocol: 'HTTP/1.1', host: HOST, agent: headers['user-agent'] };
  return { name, bytes, six, fields: { ...known, peer: six ? '::1' : '127.0.0.1', ...fields } };
};

const SENT: readonly Sent[] = [
  sent(
    'plain',
    '/whats-on?page=2&x=%20',
    { referer: 'https://a.example/b?c' },
    {
      ...{ path: '/whats-on', query: 'page=2&x=%20', referrer: 'https://a.example/b?c' },
    },
  ),
  sent('quotes', '/q', { 'user-agent': 'Thistle "8" \\ \\x41 (x)' }, { path: '/q' }),
  sent('utf-8', '/caf%C3%A9', { 'user-agent': 'Größe 🌱' }, { path: '/café' }),
  sent('encoded', '/x/%2e%2e/a%2Fb//c;d?e=%22', {}, { path: '/x/../a%2Fb//c;d', query: 'e=%22' }),
  sent('absolute', `http://${HOST}/abs?x=1`, {}, { path: '/abs', query: 'x=1' }),
  sent('dashes', '/-', { 'user-agent': '-', referer: '-' }, { path: '/-', agent: undefined }),
  sent('brackets', '/b', { 'user-agent': 'x] "GET /other HTTP/1.1" 200 [y' }, { path: '/b' }),
  sent(
    'user',
    '/user',
    { authorization: `Basic ${Buffer.from('ana maria:x').toString('base64')}` },
    {
      ...{ path: '/user', user: 'ana maria' },
    },
  ),
  sent('six', '/six', {}, { path: '/six' }, true),
  {
    name: 'old',
    bytes: Buffer.from(`GET /old HTTP/1.0\r\nuser-agent: old\r\n\r\n`),
    fields: { method: 'GET', protocol: 'HTTP/1.0', path: '/old', agent: 'old', peer: '127.0.0.1' },
  },
  // What is no HTTP at all: it must not be read as a request for something.
  { name: 'tls', bytes: Buffer.from('160301020001000001fc0303', 'hex'), fields: {} },
  { name: 'garbage', bytes: Buffer.from('\x00\x01 "GET /secret HTTP/1.1" 200\r\n\r\n'), fields: {} },
];

interface Writer {
  readonly program: string;
  readonly format: string;
  /** How the log is imported, beside its file. */
  readonly how: readonly string[];
  /** The fields that are read of each request. */
  readonly reads: readonly string[];
  /** What the server itself does not write as it was sent, by the name of the request. */
  readonly differs?: Readonly<Record<string, Readonly<Record<string, unknown>>>>;
  /** Starts it on the port, to write to the file. */
  readonly start: (port: number, log: string) => Promise<void>;
}

/** The fields that the combined format has, and those with the host in front. */
const COMBINED = ['peer', 'method', 'path', 'query', 'protocol', 'agent', 'referrer'];
const WITH_HOST = [...COMBINED, 'host'];

const NGINX_JSON =
  '{"time":"$time_iso8601","peer":"$remote_addr","host":"$host","method":"$request_method","path":"$request_uri",' +
  '"protocol":"$server_protocol","status":$status,"bytes":$bytes_sent,"agent":"$http_user_agent","referrer":"$http_referer"}';
const APACHE_JSON =
  '{\\"time\\":\\"%{%Y-%m-%dT%H:%M:%S}t%{%z}t\\",\\"peer\\":\\"%a\\",\\"host\\":\\"%{Host}i\\",\\"request\\":\\"%r\\",' +
  '\\"status\\":%>s,\\"agent\\":\\"%{User-Agent}i\\",\\"referrer\\":\\"%{Referer}i\\"}';
const HAPROXY =
  '{peer}:{-} [{time: DD/MMM/YYYY:hh:mm:ss.fff}] {-} {-} {-} {status} {bytes} {-} {-} {-} {-} {-} "{request}"';
const HAPROXY_JSON =
  '{"time":%Ts.%ms,"peer":"%ci","host":"%[capture.req.hdr(0),json(utf8s)]","method":"%HM","path":"%HU","protocol":"%HV",' +
  '"status":%ST,"bytes":%B,"agent":"%[capture.req.hdr(1),json(utf8s)]","referrer":"%[capture.req.hdr(2),json(utf8s)]"}';

const nginx = (format: string) => async (port: number, log: string) => {
  const paths = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
    (name) => `${name}_temp_path ${at(`n-${name}`)};`,
  );
  const shape = format === '' ? '' : `log_format j escape=json '${format}';`;
  writeFileSync(
    at('nginx.conf'),
    `${isRoot ? 'user root;\n' : ''}daemon off;\npid ${at('nginx.pid')};\nerror_log stderr crit;\nevents {}\n` +
      `http {\n${paths.join('\n')}\n${shape}\naccess_log ${log} ${format === '' ? 'combined' : 'j'};\n` +
      `server { listen 127.0.0.1:${port}; listen [::1]:${port}; server_name ${HOST}; return 200 "ok"; }\n}\n`,
  );
  await servers.start('/usr/sbin/nginx', ['-p', folder, '-c', at('nginx.conf')], port);
};

const apache = (format: string) => async (port: number, log: string) => {
  const modules = ['mpm_event', 'authz_core', 'log_config', 'rewrite', 'unixd'].filter((name) =>
    existsSync(`/usr/lib/apache2/modules/mod_${name}.so`),
  );
  writeFileSync(
    at('apache.conf'),
    `${modules.map((name) => `LoadModule ${name}_module /usr/lib/apache2/modules/mod_${name}.so\n`).join('')}` +
      `ServerRoot ${folder}\nPidFile ${at('apache.pid')}\nDefaultRuntimeDir ${folder}\nErrorLog ${at('apache.err')}\n` +
      `${isRoot ? 'User www-data\nGroup www-data\n' : ''}ServerName ${HOST}\nListen 127.0.0.1:${port}\nListen [::1]:${port}\n` +
      `DocumentRoot ${at('www')}\nAllowEncodedSlashes On\nLogFormat "${format}" shape\nCustomLog ${log} shape\n`,
  );
  await servers.start('/usr/sbin/apache2', ['-f', at('apache.conf'), '-D', 'FOREGROUND'], port);
};
const APACHE_COMBINED = '%h %l %u %t \\"%r\\" %>s %O \\"%{Referer}i\\" \\"%{User-Agent}i\\"';
const APACHE_VHOST = `%v:%p ${APACHE_COMBINED}`;

const lighttpd = (format: string) => async (port: number, log: string) => {
  const shape = format === '' ? '' : `accesslog.format = "${format}"\n`;
  writeFileSync(
    at('lighttpd.conf'),
    `server.modules = ("mod_accesslog")\nserver.document-root = "${at('www')}"\nserver.port = ${port}\n` +
      `server.bind = "127.0.0.1"\n$SERVER["socket"] == "[::1]:${port}" { }\nserver.errorlog = "${at('lighttpd.err')}"\n` +
      `accesslog.filename = "${log}"\n${shape}`,
  );
  await servers.start('/usr/sbin/lighttpd', ['-D', '-f', at('lighttpd.conf')], port);
};

const haproxy = (format: string) => async (port: number, log: string) => {
  const shape = format === '' ? 'option httplog' : `log-format '${format}'`;
  const captures = ['Host', 'User-Agent', 'Referer'].map((name) => `  http-request capture req.hdr(${name}) len 500\n`);
  writeFileSync(
    at('haproxy.cfg'),
    `global\n  log stdout format raw local0\ndefaults\n  mode http\n  log global\n  timeout client 2s\n  timeout connect 2s\n` +
      `  timeout server 2s\n  ${shape}\nfrontend f\n  bind 127.0.0.1:${port}\n  bind ::1:${port}\n` +
      `${format === '' ? '' : captures.join('')}  http-request return status 200\n`,
  );
  await servers.start('/usr/sbin/haproxy', ['-db', '-f', at('haproxy.cfg')], port, log);
};

const caddy = (format: string) => async (port: number, log: string) => {
  writeFileSync(
    at('Caddyfile'),
    `{\n  admin off\n  auto_https off\n}\nhttp://:${port} {\n  log {\n    output file ${log}\n    format ${format}\n  }\n  respond ok\n}\n`,
  );
  await servers.start('caddy', ['run', '--config', at('Caddyfile'), '--adapter', 'caddyfile'], port);
};
const CADDY = [
  ...['time=ts', 'peer=/request/remote_ip', 'method=/request/method', 'host=/request/host', 'path=/request/uri'],
  ...['protocol=/request/proto', 'agent=/request/headers/User-Agent/0', 'referrer=/request/headers/Referer/0'],
].flatMap((place) => ['--column', place]);

const WRITERS: readonly Writer[] = [
  { program: 'nginx', format: 'default (combined)', how: [], reads: [...COMBINED, 'user'], start: nginx('') },
  { program: 'nginx', format: 'JSON of our field names', how: [], reads: WITH_HOST, start: nginx(NGINX_JSON) },
  { program: 'Apache httpd', format: 'default (combined)', how: [], reads: COMBINED, start: apache(APACHE_COMBINED) },
  {
    program: 'Apache httpd',
    format: 'combined with the virtual host',
    how: [],
    reads: WITH_HOST,
    start: apache(APACHE_VHOST),
  },
  {
    ...{ program: 'Apache httpd', format: 'JSON with the request line', reads: WITH_HOST, start: apache(APACHE_JSON) },
    how: ['--column', 'request=request'],
  },
  {
    ...{
      program: 'lighttpd',
      format: 'default (combined, with the host second)',
      reads: WITH_HOST,
      start: lighttpd(''),
    },
    how: ['--pattern', '{peer} {host} {user} [{time}] "{request}" {status} {bytes} "{referrer}" "{agent}"'],
  },
  {
    ...{ program: 'HAProxy', format: 'default (httplog)', start: haproxy(''), how: ['--pattern', HAPROXY] },
    // The port is behind a colon, as the parts of an address are.
    differs: { six: { peer: undefined } },
    reads: ['peer', 'method', 'path', 'query', 'protocol'],
  },
  {
    program: 'HAProxy',
    format: 'JSON of our field names',
    how: [],
    reads: WITH_HOST,
    differs: { 'utf-8': { agent: 'Größe ' } },
    start: haproxy(HAPROXY_JSON),
  },
  { program: 'Caddy', format: 'default (JSON)', how: CADDY, reads: WITH_HOST, start: caddy('json') },
];

/** Sends the bytes, and waits for the end of the answer. */
const send = ({ bytes, six }: Sent, port: number): Promise<void> =>
  new Promise((done) => {
    const socket = connect(port, six ? '::1' : '127.0.0.1', () => socket.write(bytes));
    socket.setTimeout(1500, () => socket.destroy());
    socket.on('data', () => undefined).on('error', () => undefined);
    socket.on('end', () => socket.end()).on('close', () => done());
  });

/** The requests of a log, as a replay shows them. */
async function requestsOf(log: string): Promise<Record<string, unknown>[]> {
  const files = [{ name: 'open.yaml', text: 'policy: open\ndefault: allow\nrules: []\n' }];
  const { body } = await service.call('POST', '/api/v1/replays', { log, policy: 'open', files });
  const replay = `/api/v1/replays/${body.id}`;
  while ((await service.call('GET', replay)).body.state !== 'done') await sleep(50);
  const page = await service.call('GET', `${replay}/requests?limit=1000`);
  return page.body.requests.map(({ request }: { request: Record<string, unknown> }) => request);
}

describe.each(WRITERS.map((writer, at) => ({ ...writer, number: at })))('$program, $format', (writer) => {
  const log = `writer-${writer.number}`;
  let read: Record<string, unknown>[];

  beforeAll(async () => {
    const port = await freePort();
    const file = at(`${log}.log`);
    await writer.start(port, file);
    const before = Date.now();
    for (const each of SENT) await send(each, port);
    await servers.end();
    const imported = await service.client('log', 'import', file, '--name', log, ...writer.how);
    if (imported.code !== 0) throw new Error(`${imported.err}\n${readFileSync(file, 'utf8')}`);
    read = await requestsOf(log);
    for (const { time } of read) {
      expect(Date.parse(time as string)).toBeGreaterThan(before - 2000);
      expect(Date.parse(time as string)).toBeLessThan(Date.now() + 2000);
    }
  });

  it.each(SENT.filter(({ fields }) => Object.keys(fields).length > 0))(
    'reads what was sent: $name',
    ({ name, fields: all }) => {
      const fields: Readonly<Record<string, unknown>> = { ...all, ...writer.differs?.[name] };
      const wanted = Object.fromEntries(writer.reads.map((field) => [field, fields[field]]));
      const found = read.filter(
        ({ path, peer }) => path === fields.path || (peer === fields.peer && fields.path === undefined),
      );
      const shown = found.map((each) => Object.fromEntries(writer.reads.map((field) => [field, each[field]])));
      expect(shown[0]).toEqual(expect.objectContaining(plain(wanted)));
    },
  );

  it('takes nothing that is no request for one', () => {
    expect(read.filter(({ path }) => path === '/secret' || path === '/other')).toEqual([]);
  });
});

/** Without what a log need not have, such as a referrer that was not sent. */
const plain = (fields: Readonly<Record<string, unknown>>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined));

it('is what the table of docs/logs.md says', () => {
  const rows = WRITERS.map(({ program, format, how, reads, differs }) => {
    const needs = how.length === 0 ? '' : how.includes('--pattern') ? 'a pattern' : 'a mapping';
    const names = ['time', 'status', ...reads].sort();
    const shown = names.map((name) => (name in (differs?.six ?? {}) ? `${name} (of IPv4)` : name));
    return `| ${program} | ${format} | ${needs} | ${shown.join(', ')} |`;
  });
  const table = ['| server | format | needs | fields that are read |', '|---|---|---|---|', ...rows].join('\n');
  expect(readFileSync(new URL('../../docs/logs.md', import.meta.url), 'utf8')).toContain(table);
});
