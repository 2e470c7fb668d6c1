import { existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { delimiter, join } from 'node:path';
import { must } from './run.mjs';
import { say, stop } from './say.mjs';

const onPath = (program) =>
  (process.env.PATH ?? '').split(delimiter).some((folder) => existsSync(join(folder, program)));

/** What the project needs of the machine: how to recognise that it is there, and Debian's package. */
export const POSTGRESQL = {
  name: 'PostgreSQL',
  package: 'postgresql',
  isThere: () => onPath('initdb') || debianPostgres(),
};
/** Without windows, which takes a fifth less time than the whole browser, and less room; the whole one does too. */
export const CHROMIUM = {
  name: 'Chromium',
  package: 'chromium-headless-shell',
  isThere: () => onPath('chromium-headless-shell') || onPath('chromium'),
};

/** The browser that is there, or the one that CHROMIUM names. */
export const chromiumPath = () =>
  process.env.CHROMIUM ??
  ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find((path) => existsSync(path)) ??
  'chromium';

/** Web servers that ask the gate, as the tests run them. */
export const NGINX = {
  name: 'nginx',
  package: 'nginx',
  isThere: () => onPath('nginx') || existsSync('/usr/sbin/nginx'),
};
export const CADDY = { name: 'Caddy', package: 'caddy', isThere: () => onPath('caddy') };

/** Servers whose logs are read in the tests. */
export const LOG_WRITERS = [
  ['Apache httpd', 'apache2-bin', 'apache2'],
  ['lighttpd', 'lighttpd', 'lighttpd'],
  ['HAProxy', 'haproxy', 'haproxy'],
].map(([name, debian, program]) => ({
  name,
  package: debian,
  isThere: () => onPath(program) || existsSync(`/usr/sbin/${program}`),
}));

/** The DNS server that answers in the tests. */
export const DNS_SERVER = {
  name: 'NSD',
  package: 'nsd',
  isThere: () => onPath('nsd') || existsSync('/usr/sbin/nsd'),
};

/** Other programs that pack logs, whose output is unpacked in the tests. */
export const PACKERS = [
  { name: 'zstd', package: 'zstd', isThere: () => onPath('zstd') },
  { name: 'xz', package: 'xz-utils', isThere: () => onPath('xz') },
  { name: 'bzip2', package: 'bzip2', isThere: () => onPath('bzip2') },
];

/** A screen and a terminal in it, to draw pictures of the client. */
export const SCREEN = [
  { name: 'Xvfb', package: 'xvfb', isThere: () => onPath('Xvfb') },
  { name: 'xterm', package: 'xterm', isThere: () => onPath('xterm') },
  { name: 'ImageMagick', package: 'imagemagick', isThere: () => onPath('import') && onPath('convert') },
];

function debianPostgres() {
  const folder = '/usr/lib/postgresql';
  return existsSync(folder) && readdirSync(folder).some((version) => existsSync(join(folder, version, 'bin/initdb')));
}

/** Installs what is missing where we may; else says what to install. */
export function installMissing(needs) {
  const missing = needs.filter((need) => !need.isThere());
  if (missing.length === 0) return;
  const names = missing.map((need) => need.name).join(' and ');
  const packages = missing.map((need) => need.package);
  const mayInstall = process.getuid?.() === 0 && onPath('apt-get');
  if (!mayInstall) stop(`${names} must be installed first.`, `On Debian: sudo apt-get install ${packages.join(' ')}`);
  say(`Installing ${names}`);
  if (packages.includes('postgresql')) withoutClusterOfItsOwn();
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  withoutStartedServices();
  must('apt-get', ['update', '-q=2'], { env });
  must('apt-get', ['install', '-y', '-q=2', '--no-install-recommends', ...packages], {
    env,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
}

/** Debian's package would make and start a server of its own; ours is made by the service. */
function withoutClusterOfItsOwn() {
  const folder = '/etc/postgresql-common/createcluster.d';
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'jade-fence.conf'), 'create_main_cluster = false\n');
}

/** Debian's packages start what they install; policy-rc.d (invoke-rc.d(8)) forbids that while we install. */
function withoutStartedServices() {
  const file = '/usr/sbin/policy-rc.d';
  if (existsSync(file)) return;
  writeFileSync(file, '#!/bin/sh\nexit 101\n', { mode: 0o755 });
  process.once('exit', () => rmSync(file, { force: true }));
}
