import type { LookUpBody } from '@jade-fence/contract';
import { safe } from './safe.js';
import { indent, table } from './table.js';
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
