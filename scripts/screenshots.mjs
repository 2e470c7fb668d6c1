// `npm run screenshots`: draws docs/screenshots anew from the demo's data. The pictures are committed, so nobody else
// needs to.
import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { setTimeout as sleep } from 'node:timers/promises';
import { chromium } from 'playwright-core';
import { build } from './steps/build.mjs';
import { CHROMIUM, chromiumPath, installMissing, POSTGRESQL, SCREEN as SCREEN_PACKAGES } from './steps/debian.mjs';
import { must } from './steps/run.mjs';
import { CLIENT, startService } from './steps/service.mjs';

process.chdir(new URL('..', import.meta.url).pathname);
const OUT = 'docs/screenshots';
const WORK = '/tmp/jade-fence-screenshots';
const SCREEN = ':97';

/** Pages of the console: a name, an address, and whether it is dark. */
const PAGES = [
  ['console-run', '/policies/ticket-site', 'light'],
  ['console-edit-dark', '/policies/visitor-web?edit=no-wagering', 'dark'],
  ['console-requests', '/policies/visitor-web?rule=no-wagering&role=overtaken&request=28', 'light'],
  ['console-explanation-dark', '/policies/ticket-site?rule=no-harvesters&request=10', 'dark'],
  ['console-compare', '/compare', 'light'],
  ['console-in-sum-dark', '/policies/ticket-site?rule=calendar-rush&role=observed&evidence=yes', 'dark'],
  ['console-library', '/library/schedule/opening-hours', 'light'],
  ['console-draft', '/draft', 'light'],
];

/** All pages, as they are when rules are in force: on one sheet in light, on another in dark. */
const ALL_PAGES = [
  ['Rules, of the traffic of one country', '/policies/ticket-site?country=ES'],
  ['A rule, edited', '/policies/visitor-web?edit=adverts'],
  ['The requests of a rule, one by one', '/policies/visitor-web?rule=web-for-all&request=1'],
  ['The requests of a rule, in sum', '/policies/ticket-site?rule=old-booking-calls&role=observed&evidence=yes'],
  ['Compare', '/compare'],
  ['Try', '/try?client=10.40.8.2&url=https%3A%2F%2Fwww.petalpress.example%2Fnews'],
  ['Checks', '/checks?cell=what-visitors-reach+visitor-phone+betting'],
  ['What a client can meet', '/effective?of=visitor-phone'],
  ['Library: a list', '/library/list/home-workers'],
  ['Library: a check', '/library/check/what-visitors-reach'],
  ['Requests in sum: let through then, blocked now', '/policies/ticket-site?status=2xx&verdict=block&evidence=yes'],
  ['Library: a notice', '/library/notice/not-here'],
  ['Library: country data', '/library/countries'],
  ['Library: resolutions', '/library/resolutions'],
  ['Logs', '/logs/week'],
  ['Review', '/review'],
  ['Draft', '/draft'],
  ['History', '/history'],
  ['Library: all lists', '/library'],
  ['Live', '/live'],
  ['Usage of rules', '/usage'],
  ['People', '/people/everybody'],
  ['Audit', '/audit'],
  ['Look-up of an address', '/look-up?of=198.18.97.3'],
  ['Look-up of a host', '/look-up?of=www.visit-portugal.example'],
];
const SHEET = { columns: 3, shown: 640 };

/** Terminals: a name, and what is typed. */
const TERMINALS = [
  ['client-replay', 'jade-fence replay run week'],
  [
    'client-requests',
    'jade-fence request list --rule no-harvesters --limit 12; echo; jade-fence request list --rule no-wagering --role overtaken --limit 12',
  ],
  [
    'client-explain',
    'jade-fence request explain --client 10.10.1.4 --forwarded-for 198.18.97.3 --url https://tickets.fennelhill.example/whats-on',
  ],
  ['client-validate', 'jade-fence workspace check mistakes.yaml'],
  ['client-review', 'jade-fence finding list'],
  ['client-check', 'jade-fence check run; echo; jade-fence client show visitor-phone'],
  // The last ones, since they edit the workspace.
  [
    'client-compare',
    'jade-fence workspace apply edited; jade-fence replay run week > before.txt; jade-fence replay compare; echo; jade-fence replay compare --is block --limit 8',
  ],
  [
    'client-draft',
    'jade-fence revision publish -m "First rules" --accept-warnings; echo; jade-fence entry remove home-workers 198.18.40.77; jade-fence entry add home-workers 203.0.113.77 --note "visiting botanist"; echo; jade-fence draft show; echo; jade-fence revision publish -m "Rui has left"; jade-fence revision list',
  ],
];

const MISTAKES = `policy: ticket-site
covers: {hosts: [*.fennelhill.example]}
default: alow
rules:
  - rule: open-countries
    when: {contry: [PT]}
    then: allow
  - rule: sign-in
    when: {path: [account/sign-in], client: [10.40.8.1/22, curators]}
    then: block
`;

const RULE_ADDED =
  '$1- rule: no-wagering-now\n$1  when: {category: [wagering]}\n$1  then: block\n$1- rule: web-for-all\n';

installMissing([POSTGRESQL, CHROMIUM, ...SCREEN_PACKAGES]);
build();
rmSync(WORK, { recursive: true, force: true });
mkdirSync(`${WORK}/bin`, { recursive: true });
mkdirSync(OUT, { recursive: true });
writeFileSync(`${WORK}/mistakes.yaml`, MISTAKES);
mkdirSync(`${WORK}/edited`);
const policy = readFileSync('demo/workspace/visitor-web.yaml', 'utf8');
writeFileSync(`${WORK}/edited/visitor-web.yaml`, policy.replace(/^( *)- rule: web-for-all\n/m, RULE_ADDED));
const service = await startService(['--port', '0', '--gate-port', '0', '--data-dir', `${WORK}/data`]);
if (service.url === undefined) process.exit(service.exitCode);
try {
  writeClient(service);
  for (const args of [
    ['workspace', 'apply', 'demo/workspace'],
    ['country', 'import', 'demo/country-data.csv', '--date', '2026-11-01'],
    ['resolution', 'import', 'demo/resolutions.csv'],
    ['replay', 'run', '--import', 'demo/logs/week.jsonl'],
  ])
    must(`${WORK}/bin/jade-fence`, args, { stdio: 'ignore' });
  must(`${WORK}/bin/jade-fence`, ['replay', 'run', 'week', '--try', `${WORK}/edited`], { stdio: 'ignore' });
  await drawPages(service);
  await drawTerminals();
  await decideSome(service);
  await drawSheets(service);
} finally {
  service.process.kill('SIGTERM');
  await once(service.process, 'exit');
  rmSync(WORK, { recursive: true, force: true });
}

/** The client under its own name, so that what is typed in the pictures is what a user types. */
function writeClient({ url, keyFile }) {
  const script = `#!/bin/sh\nJADE_FENCE_PAGER= JADE_FENCE_URL=${url} exec ${process.execPath} ${process.cwd()}/${CLIENT} --key-file ${keyFile} "$@"\n`;
  writeFileSync(`${WORK}/bin/jade-fence`, script, { mode: 0o755 });
}

async function signedIn({ url, keyFile }) {
  const args = [
    '--disable-gpu',
    '--no-first-run',
    '--disable-background-networking',
    ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
  ];
  const browser = await chromium.launch({
    executablePath: chromiumPath(),
    args,
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(url);
  await page.getByLabel('Access key').fill(readFileSync(keyFile, 'utf8').trim());
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.locator('[data-rule]').first().waitFor();
  return { browser, page };
}

async function open(page, address, theme) {
  await page.evaluate((chosen) => localStorage.setItem('jade-fence-theme', chosen), theme);
  await page.goto(address);
  await page.waitForLoadState('networkidle');
  await page.evaluate(() => document.fonts.ready);
}

async function drawPages(to) {
  const { browser, page } = await signedIn(to);
  for (const [name, address, theme] of PAGES) {
    await open(page, `${to.url}${address}`, theme);
    await page.screenshot({ path: `${OUT}/${name}.png` });
  }
  must(`${WORK}/bin/jade-fence`, ['replay', 'show', '--output', `${WORK}/week.html`], { stdio: 'ignore' });
  await page.goto(`file://${WORK}/week.html`);
  await page.screenshot({ path: `${OUT}/report-page.png` });
  await browser.close();
}

/** What gateways would ask, so that there is something to see live. */
async function decideSome({ url, gateUrl, keyFile }) {
  const key = readFileSync(keyFile, 'utf8').trim();
  const call = (to, authorization, body) =>
    fetch(to, {
      method: 'POST',
      headers: { authorization: `Bearer ${authorization}`, 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
  const { secret } = await (await call(`${url}/api/v1/tokens`, key, { name: 'front-gate', kind: 'gateway' })).json();
  for (let at = 0; at < 9; at++) {
    const request =
      at % 3 === 0
        ? { peer: '10.40.3.7', method: 'GET', host: 'www.petalpress.example', path: '/news' }
        : { peer: '198.18.4.9', method: 'POST', host: 'tickets.fennelhill.example', path: '/account/sign-in' };
    await call(`${gateUrl}/decide`, secret, request);
  }
  await sleep(2000);
}

/** Every page, small, on one sheet for each theme. */
async function drawSheets(to) {
  const { browser, page } = await signedIn(to);
  for (const theme of ['light', 'dark']) {
    const shots = [];
    for (const [title, address] of ALL_PAGES) {
      await open(page, `${to.url}${address}`, theme);
      shots.push([title, (await page.screenshot()).toString('base64')]);
    }
    const figures = shots.map(
      ([title, png]) =>
        `<figure><img src="data:image/png;base64,${png}" width="${SHEET.shown}"><figcaption>${title}</figcaption></figure>`,
    );
    const colours = theme === 'light' ? '#e4e1d6; color: #23302b' : '#060908; color: #e7ece8';
    const sheet = await browser.newPage({ viewport: { width: SHEET.columns * (SHEET.shown + 16) + 16, height: 800 } });
    await sheet.setContent(
      `<style>body { margin: 8px; background: ${colours}; font: 15px sans-serif; display: grid; grid-template-columns: repeat(${SHEET.columns}, max-content) }
       figure { margin: 8px } figcaption { margin-top: 4px }</style>${figures.join('')}`,
    );
    await sheet.screenshot({ path: `${OUT}/console-pages-${theme}.png`, fullPage: true });
    await sheet.close();
  }
  await browser.close();
}

async function drawTerminals() {
  const screen = spawn('Xvfb', [SCREEN, '-screen', '0', '1280x800x24'], { stdio: 'ignore' });
  await sleep(1500);
  const env = {
    ...process.env,
    DISPLAY: SCREEN,
    PATH: `${WORK}/bin:${process.env.PATH}`,
    TERM: 'xterm-256color',
    LANG: 'C.UTF-8',
  };
  for (const [name, typed] of TERMINALS) {
    // What is longer than the window is shown from its top.
    const top = `script -qec ${quoted(typed)} /dev/null | head -n 51`;
    const shown = `clear; printf '\\033[?25l$ %s\\n' ${quoted(typed)}; ${top}; sleep 60`;
    const look = [
      '-geometry',
      '159x53+0+0',
      '-fa',
      'DejaVu Sans Mono',
      '-fs',
      '9',
      '-bg',
      '#fdfcf8',
      '-fg',
      '#23302b',
      '-u8',
      '-xrm',
      'XTerm*color2: #17664f',
      '-xrm',
      'XTerm*color1: #9b2a55',
      '-xrm',
      'XTerm*color3: #7d5606',
    ];
    const terminal = spawn('xterm', [...look, '-e', 'sh', '-c', shown], { env, cwd: WORK, stdio: 'ignore' });
    await sleep(9000);
    spawnSync('import', ['-window', 'root', '-colors', '64', `${OUT}/${name}.png`], { env, stdio: 'inherit' });
    terminal.kill();
    await once(terminal, 'exit');
  }
  screen.kill();
}

function quoted(text) {
  return `'${text.replaceAll("'", "'\\''")}'`;
}
