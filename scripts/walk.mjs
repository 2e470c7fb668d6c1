// `npm run walk`: goes through the work of an administrator on the demo, by the client alone, and writes what was typed
// and what came back into docs/walk.md. Ends with 1 where a step does not end as it should.
import { spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { cpSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { build } from './steps/build.mjs';
import { CLIENT, startService } from './steps/service.mjs';

process.chdir(new URL('..', import.meta.url).pathname);
const OUT = 'docs/walk.md';
const WORK = '/tmp/jade-fence-walk';
/** Longer answers are shown by their beginning. */
const MOST_LINES = 32;

/** What is typed, and the code that it must end with where that is not 0. */
const fails = (command, code = 1) => ({ command, code });

const WALK = [
  [
    'Loading the garden',
    'The rules come as files. All problems of all files are listed at once, and nothing invalid is stored.',
    [
      'jade-fence workspace apply garden',
      'jade-fence country import country-data.csv --date 2026-11-01',
      'jade-fence resolution import resolutions.csv',
      'jade-fence log import week.jsonl',
    ],
  ],
  [
    'An intent is one sentence',
    'Each rule is shown as a sentence. "Only our offices and these two home workers may see the staging host; everyone may see the public one, although both are the same site":',
    [
      'jade-fence policy show ticket-site',
      'jade-fence request explain --client 198.18.16.21 --url https://staging.fennelhill.example/ --expect allow',
      fails('jade-fence request explain --client 198.18.4.20 --url https://staging.fennelhill.example/ --expect allow'),
    ],
  ],
  [
    'Gathering what rules speak of',
    'A list is looked at before it is changed: what is in it, and who uses it. One entry is added without touching a rule.',
    [
      'jade-fence list show home-workers',
      'jade-fence entry add home-workers 203.0.113.77 --note "visiting botanist" --until 2027-03-01',
      'jade-fence entry list home-workers --search botanist',
      'printf "track.example\\n.spy.example  # from the library\\nnot a host\\n" > trackers.txt',
      fails('jade-fence entry import trackers trackers.txt --of domains', 4),
      'jade-fence entry import trackers trackers.txt --of domains --skip',
      'jade-fence country show 198.18.97.3',
      'jade-fence look-up show odds.meadowbet.example',
    ],
  ],
  [
    'Order is the mistake that everyone makes',
    'Someone added a rule against wagering below one that allows the web. The review sees it without any traffic, the check says which move mends it, and the move is made in a file.',
    [
      fails('jade-fence finding list --strict'),
      fails('jade-fence check run'),
      'jade-fence workspace pull mine',
      `awk '/- rule: web-for-all/ {held = 1} /- rule: no-wagering/ {held = 0} {if (held) kept = kept $0 "\\n"; else print} END {printf "%s", kept}' mine/visitor-web.yaml > moved.yaml && cp moved.yaml mine/visitor-web.yaml`,
      'jade-fence workspace check mine',
      'jade-fence workspace push mine --dry-run',
      'jade-fence workspace push mine',
      'jade-fence check run',
    ],
  ],
  [
    'It is not trusted yet',
    'The week is replayed by the rules as they are, and what the move changes is compared with what was there before it. A rule that only observes is tuned by what it would have stopped.',
    [
      'jade-fence replay run week --try garden > before.txt',
      'jade-fence replay run week',
      'jade-fence replay compare',
      'jade-fence rule tune calendar-rush',
    ],
  ],
  [
    'Reading the evidence',
    'Every figure leads to its requests, every request to its story; any requests are shown in sum, such as those that were let through then and are stopped now; what is shown to others need not reveal who it was.',
    [
      'jade-fence request list --rule no-wagering --limit 5',
      'jade-fence request explain --request 28',
      'jade-fence request sum --status 2xx --verdict block',
      'jade-fence request list --verdict block --country XM --limit 3 --redact client/24',
      'jade-fence client show visitor-phone',
      'jade-fence check add what-visitors-reach --request 28',
    ],
  ],
  [
    'Where traffic goes',
    'A rule can be about the country that a destination is in, by its address and not by its name: a host that is called after Portugal is in a network of XM. Of tunnels the log shows the name alone; the resolutions say where that was. The rule only observes, so that its writer sees first whom it would stop; the look-up shows the whole chain, and that the address alone would stop fewer.',
    [
      'jade-fence replay run week --policy visitor-web --json > visitor-web.json',
      'jade-fence request list --rule hosted-in-xm --role observed --limit 4',
      'jade-fence request explain --request 131',
      'jade-fence look-up show www.visit-portugal.example --log week',
      'jade-fence resolution show',
      'jade-fence resolve run --log week --by log',
    ],
  ],
  [
    'Logs as they are',
    'A log of another program is tried before it is brought: a line of text by a pattern, nested JSON by the places of its fields.',
    [
      `printf '%s\\n' '2026-11-09 08:00:00,250 [gate-2] 198.18.4.20 rita "GET /whats-on?page=2 HTTP/1.1" 200' '2026-11-09 08:00:02,000 [gate-1] restarted' > gate.log`,
      `jade-fence mapping try gate.log --pattern '{time} [{-}] {peer} {user} "{request}" {status}'`,
      `jade-fence mapping set gatehouse --pattern '{time} [{-}] {peer} {user} "{request}" {status}' --zone Europe/Lisbon`,
      'jade-fence log import gate.log --mapping gatehouse',
    ],
  ],
  [
    'Publishing, and going back',
    'The draft is looked at in words, published at once, and an earlier state is fetched back when it hurts.',
    [
      fails('jade-fence revision publish -m "Wagering is refused to visitors"'),
      'jade-fence revision publish -m "Wagering is refused to visitors" --accept-warnings',
      'jade-fence entry remove home-workers 198.18.40.77',
      'jade-fence draft show',
      'jade-fence revision publish -m "Rui has left"',
      'jade-fence revision restore 1 list home-workers --yes',
      'jade-fence revision compare',
      'jade-fence revision publish -m "Rui is back"',
      'jade-fence revision list',
      'jade-fence object history list home-workers',
      'jade-fence audit list --kind list',
      'jade-fence person add ines --role editor',
      'jade-fence decision count',
      'jade-fence rule usage visitor-web',
    ],
  ],
];

build();
rmSync(WORK, { recursive: true, force: true });
mkdirSync(`${WORK}/bin`, { recursive: true });
cpSync('demo/workspace', `${WORK}/garden`, { recursive: true });
cpSync('demo/country-data.csv', `${WORK}/country-data.csv`);
cpSync('demo/resolutions.csv', `${WORK}/resolutions.csv`);
cpSync('demo/logs/week.jsonl', `${WORK}/week.jsonl`);
const service = await startService(['--port', '0', '--data-dir', `${WORK}/data`]);
if (service.url === undefined) process.exit(service.exitCode);
const wrong = [];
try {
  const { url, keyFile } = service;
  const script = `#!/bin/sh\nJADE_FENCE_URL=${url} exec ${process.execPath} ${process.cwd()}/${CLIENT} --key-file ${keyFile} "$@"\n`;
  writeFileSync(`${WORK}/bin/jade-fence`, script, { mode: 0o755 });
  const parts = WALK.map(
    ([title, text, steps], number) => `## ${number}. ${title}\n\n${text}\n\n${steps.map(walked).join('\n')}`,
  );
  writeFileSync(OUT, `${HEAD()}${parts.join('\n')}`);
} finally {
  service.process.kill('SIGTERM');
  await once(service.process, 'exit');
  rmSync(WORK, { recursive: true, force: true });
}
for (const each of wrong) console.error(each);
process.exitCode = wrong.length === 0 ? 0 : 1;

function HEAD() {
  return `# A walk

What an administrator of the garden does, by the client alone. \`npm run walk\` types it anew and writes this page; long
answers are shown by their beginning.

`;
}

function walked(step) {
  const { command, code } = typeof step === 'string' ? { command: step, code: 0 } : step;
  const ran = spawnSync('sh', ['-c', `exec 2>&1; ${command}`], {
    cwd: WORK,
    env: { ...process.env, PATH: `${WORK}/bin:${process.env.PATH}`, NO_COLOR: '1' },
    encoding: 'utf8',
  });
  if (ran.status !== code) wrong.push(`ended with ${ran.status}, not ${code}: ${command}\n${ran.stdout}`);
  const lines = ran.stdout.trimEnd() === '' ? [] : ran.stdout.trimEnd().split('\n');
  const shown = lines.slice(0, MOST_LINES);
  const more = lines.length > shown.length ? [`… ${lines.length - shown.length} more lines`] : [];
  const ended = code === 0 ? [] : [`# ends with ${code}`];
  return `${['```console', `$ ${command}`, ...shown, ...more, ...ended].join('\n')}\n\`\`\`\n`;
}
