import type { ResolutionLoadBody, ResolutionsBody, ResolveBody } from '@jade-fence/contract';
import { clock } from './report.js';
import { safe } from './safe.js';
import { count, counted, table } from './table.js';
import type { Paint } from './terminal.js';

const FAULTS_LISTED = 20;

/** What a file of resolutions came to. */
export function formatLoad({ faults, faultCount, hosts, anew }: ResolutionLoadBody, paint: Paint): string {
  const shown = faults
    .slice(0, FAULTS_LISTED)
    .map(({ line, reason }) => `${paint.yellow('!')} line ${line}: ${safe(reason)}`);
  const more = faultCount > shown.length ? [`… and ${count(faultCount - shown.length)} more`] : [];
  const before = anew ? ' What was known before does not count any more.' : '';
  const loaded = `Loaded ${counted(hosts, 'host', 'hosts')}, ${count(faultCount)} lines skipped; in force now.${before}`;
  return [...shown, ...more, loaded].join('\n');
}

/** How much is known, and where the last of it came from. */
export function formatResolutions(
  { hosts, changedAt, servers }: ResolutionsBody,
  loads: readonly ResolutionLoadBody[],
  paint: Paint,
): string {
  const known =
    changedAt === null
      ? 'No host is resolved yet. Load a file with `jade-fence resolution import FILE`, or ask DNS with `jade-fence resolve run --log LOG`.'
      : `${counted(hosts, 'host', 'hosts')} known, the last on ${clock(changedAt)}.`;
  const asked =
    servers.length === 0
      ? 'No DNS servers are set, so that no host is looked up.'
      : `Hosts are looked up by ${servers.join(', ')}.`;
  const rows = loads.map((each) => [
    String(each.id),
    each.kind,
    safe(each.name),
    count(each.hosts),
    count(each.faultCount),
    safe(each.by ?? 'the service'),
    `${clock(each.loadedAt)}${each.anew ? ', anew' : ''}`,
  ]);
  return [known, asked, ...(rows.length === 0 ? [] : [table(LOADS, rows, paint)])].join('\n');
}

const LOADS = [
  { title: '#', align: 'right' as const },
  { title: 'kind' },
  { title: 'from' },
  { title: 'hosts', align: 'right' as const },
  { title: 'skipped', align: 'right' as const },
  { title: 'by' },
  { title: 'loaded' },
];

/** What looking hosts up came to. */
export function formatResolve({ state, by, log, done, counts, examples }: ResolveBody, paint: Paint): string {
  if (state === 'cancelled') return 'Cancelled. What was answered until then is kept.';
  const { found, none, failed, withheld, private: leadInside, beyond } = counts;
  if (by === 'log')
    return `Took the addresses of ${counted(found, 'host', 'hosts')} from ${log}.${beyond > 0 ? ` ${count(beyond)} more found no room.` : ''}`;
  const parts = [
    `${count(found + leadInside)} with addresses`,
    ...(none > 0 ? [`${count(none)} known to have none`] : []),
    ...(failed > 0 ? [`${count(failed)} without an answer`] : []),
    ...(withheld > 0 ? [`${count(withheld)} private and not sent outside`] : []),
  ];
  return [
    done === 0 ? 'Every host is known already.' : `Looked up ${counted(done, 'host', 'hosts')}: ${parts.join(', ')}.`,
    ...(leadInside > 0
      ? [
          `${paint.yellow('!')} ${counted(leadInside, 'public name was', 'public names were')} answered with an address of private networks. Whoever answered may lie; or name your own domains with \`jade-fence setting set --own-domain DOMAIN\`.`,
        ]
      : []),
    ...(beyond > 0 ? [`${count(beyond)} hosts were too many; resolve the log once more for them.`] : []),
    ...examples.slice(0, FAULTS_LISTED).map(({ host, why }) => `  ${safe(host)}: ${safe(why)}`),
  ].join('\n');
}
