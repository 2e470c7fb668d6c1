import type { LookUpBody } from '@jade-fence/contract';
import { safe } from './safe.js';
import { count, indent, table } from './table.js';
import type { Paint } from './terminal.js';

/** «application meeting, by its port too». */
const formatPartial = ({ kind, name, also }: LookUpBody['inPart'][number]): string =>
  `${kind} ${name}, by its ${also.join(' and ')} too`;

/** Everything that is known of a value, and what is not. */
export function formatLookUp(found: LookUpBody, paint: Paint): string {
  const { kind, normal, lists, categories, applications, inPart, policies, rules } = found;
  const names = (all: readonly string[], none: string) => (all.length === 0 ? paint.dim(none) : all.join(', '));
  const facts = [
    ...(kind === 'address' ? [['country', formatCountry(found)]] : []),
    ...(kind === 'host' || kind === 'url'
      ? [
          ['categories', names(categories, 'none')],
          ['applications', names(applications, 'none by the value alone')],
          ...(inPart.length > 0 ? [['by more', inPart.map(formatPartial).join('; ')] as const] : []),
        ]
      : []),
    [
      'policies',
      names(
        policies.map(({ policy, as }) => `${policy} (as ${as})`),
        'none speaks for it',
      ),
    ],
  ] as const;
  const held = lists.map(({ list, entry, through, note }) => [
    paint.bold(list),
    safe(entry),
    through === null ? '' : `through ${through}`,
    safe(note ?? ''),
  ]);
  const concerned = rules.map(({ policy, rule, stance, how, because }) => [
    paint.bold(`${policy} / ${rule}`),
    stance === 'enforce' ? how : `${how} (${stance})`,
    safe(because),
  ]);
  return [
    `${paint.bold(safe(normal))}, ${ARTICLES[kind]}`,
    indent(facts.map(([name, value]) => `${paint.dim(name.padEnd(12))}  ${value}`).join('\n'), '  '),
    ...formatAnswer(found, paint),
    lists.length === 0
      ? paint.dim('  In no list.')
      : indent(
          table(
            ['in list', 'by entry', '', 'note'].map((title) => ({ title })),
            held,
            paint,
          ),
          '  ',
        ),
    rules.length === 0
      ? paint.dim('  No rule speaks of it.')
      : indent(
          table(
            ['rule', '', 'because'].map((title) => ({ title })),
            concerned,
            paint,
          ),
          '  ',
        ),
    ...formatRemedies(found, paint),
  ].join('\n\n');
}

const ARTICLES = { address: 'an address', host: 'a host', url: 'a URL', user: 'a user' } as const;

function formatCountry({ country, countryData }: LookUpBody): string {
  const from = countryData ? `the country data of ${countryData.date}` : 'no country data';
  if (country === null) return `unknown: ${from} is loaded`;
  const { country: code, name, by, network } = country;
  const shown = name === null ? code : `${code}, ${name}`;
  if (network === null) return `${shown}; it is in no network of ${from}`;
  return `${shown}: ${by === 'correction' ? 'a correction' : from} says so of ${network}`;
}

/** The addresses of a host: when and from where, and where each of them is. */
function formatAnswer({ kind, resolution, countryData }: LookUpBody, paint: Paint): string[] {
  if (kind !== 'host' && kind !== 'url') return [];
  if (resolution === null)
    return [paint.dim('  No address of it is known. Look it up with `jade-fence resolve run HOST`.')];
  const { addresses, seen, until, from, isPrivate } = resolution;
  const holds = until === null ? '' : `, held until ${until}`;
  const head = `seen ${seen} by ${from.kind} ${safe(from.name)}${holds}`;
  if (addresses.length === 0) return [indent(`${paint.dim('addresses')}  known to have none; ${head}`, '  ')];
  const rows = addresses.map(({ address, country, lists }) => [
    paint.bold(address),
    country === null
      ? 'no country data'
      : country.name === null
        ? country.country
        : `${country.country}, ${country.name}`,
    country?.network ?? '',
    lists.map(({ list }) => list).join(', '),
  ]);
  const titles = ['address', 'country', countryData ? `network, by data of ${countryData.date}` : 'network', 'in list'];
  return [
    indent(
      [
        table(
          titles.map((title) => ({ title })),
          rows,
          paint,
        ),
        paint.dim(head),
        ...(isPrivate
          ? [paint.yellow('! a public name at an address of private networks: whoever answered may lie')]
          : []),
      ].join('\n'),
      '  ',
    ),
  ];
}

/** What a rule could be about, the narrowest first. */
function formatRemedies({ remedies }: LookUpBody, paint: Paint): string[] {
  if (remedies.length === 0) return [];
  const isCounted = remedies.some(({ requests }) => requests !== null);
  const rows = remedies.map(({ kind, condition, requests, others }) => [
    `this ${kind}`,
    paint.bold(condition),
    ...(isCounted ? [count(requests ?? 0), count(others ?? 0)] : []),
  ]);
  const columns = [
    { title: 'to stop' },
    { title: 'write' },
    ...(isCounted
      ? [
          { title: 'requests', align: 'right' as const },
          { title: 'of these to other hosts', align: 'right' as const },
        ]
      : []),
  ];
  return [indent(table(columns, rows, paint), '  ')];
}
