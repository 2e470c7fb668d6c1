import { formatAddress, formatPrefix, networkOf } from '@jade-fence/core/address';
import { type CountryData, compileCountryData } from '@jade-fence/core/country';
import { linkFiles, type ReadFiles, readFiles, type Workspace } from '@jade-fence/core/workspace';
import { COUNTRY_COUNT, codes, largeCountryNetworks } from './countries.js';
import { AGENTS, HOSTS, SECTIONS } from './log.js';
import { Random } from './random.js';

const SEED = 1759;
const LISTS = 50;
const ENTRIES = 160_000;

let lists: ReadFiles | undefined;
let countries: CountryData | undefined;

/** 280,000 networks of IPv4 and 20,000 of IPv6. */
export function largeCountryData(): CountryData {
  countries ??= compileCountryData(largeCountryNetworks(280_000, 20_000));
  return countries;
}

/**
 * The entries of the address lists, by the lists' names. Sizes fall off: the largest lists have tens of thousands of
 * entries, the smallest a few.
 */
export const largeLists = (): Map<string, string[]> => {
  const random = new Random(SEED);
  const weights = Array.from({ length: LISTS }, (_, index) => 0.85 ** index);
  const sum = weights.reduce((total, each) => total + each, 0);
  return new Map(
    weights.map((weight, index) => {
      const length = Math.max(4, Math.round((weight / sum) * ENTRIES));
      return [listName(index), Array.from({ length }, () => entry(random))];
    }),
  );
};

/** A workspace with one policy of this many rules, and 50 address lists of 160,000 entries in all. */
export function largeWorkspace(rules: number, edit = ''): Workspace {
  lists ??= readFiles([{ name: 'lists.yaml', text: listsText() }]);
  const { workspace, issues } = linkFiles([lists, readFiles([{ name: 'policy.yaml', text: policyText(rules, edit) }])]);
  if (issues.length > 0) throw new Error(`${issues[0]?.what} at ${issues[0]?.path}`);
  return workspace;
}

/** The files of that workspace, the lists first; its policy covers every client. */
export const largeWorkspaceFiles = (rules: number): { name: string; text: string }[] => [
  { name: 'lists.yaml', text: listsText() },
  { name: 'policy.yaml', text: policyText(rules, '').replace('\n', '\ncovers: {clients: ["0.0.0.0/0", "::/0"]}\n') },
];

const listName = (index: number): string => `list-${index}`;

const listsText = (): string =>
  [...largeLists()]
    .map(
      ([name, entries]) =>
        `list: ${name}\nof: addresses\nentries:\n${entries.map((each) => `  - "${each}"`).join('\n')}\n`,
    )
    .join('---\n');

function entry(random: Random): string {
  const six = random.chance(0.05);
  const address = six
    ? { family: 6 as const, words: [0x20014000 + random.below(10_000), random.word(), 0, 0] as const }
    : { family: 4 as const, value: 0x01000000 + random.below(0xde000000) };
  if (random.chance(0.4)) return formatAddress(address);
  const length = six ? 48 + random.below(17) : 20 + random.below(12);
  return formatPrefix({ address: networkOf(address, length).first, length });
}

/** A rule as a policy's text has it, as plain data. */
export interface LargeRule {
  readonly rule: string;
  readonly when: LargeCondition | readonly LargeCondition[];
  readonly unless?: LargeCondition;
  readonly stance?: 'observe';
  readonly then: 'allow' | 'block';
}

/** The values of each field, any of which may match; or those that must not. */
export type LargeCondition = Readonly<Record<string, readonly string[] | { readonly not: readonly string[] }>>;

/** Rules of every kind of condition that logs can answer, the shares about as people write them. */
export function largeRules(rules: number): LargeRule[] {
  const random = new Random(SEED + rules);
  const known = codes().slice(0, COUNTRY_COUNT);
  const host = () => HOSTS[random.below(HOSTS.length)] as string;
  const section = () => SECTIONS[random.below(SECTIONS.length)] as string;
  const few = <T>(most: number, make: () => T) => Array.from({ length: 1 + random.below(most) }, make);
  const rule = (index: number): LargeRule => {
    const kind = random.below(100);
    const client = () => ({ client: few(2, () => listName(random.below(LISTS))) });
    const country = () => ({ country: few(4, () => random.choose(known)) });
    const path = () => ({
      path: few(3, () =>
        random.choose([
          `${section()}/**`,
          `${section()}/item-${random.below(999)}`,
          `**/export-${random.below(9)}`,
          `~^${section()}/item-[0-9]*7$`,
        ]),
      ),
    });
    const when =
      kind < 30
        ? { ...client(), host: [host()] }
        : kind < 45
          ? { ...country(), host: few(3, host) }
          : kind < 60
            ? { ...path(), ...(random.chance(0.5) ? { method: ['POST'] } : { host: [host()] }) }
            : kind < 70
              ? { ...client(), ...path() }
              : kind < 78
                ? { host: [host()], country: { not: few(6, () => random.choose(known)) }, method: ['POST', 'DELETE'] }
                : kind < 86
                  ? {
                      agent: [random.choose([`${random.choose(AGENTS).slice(0, 9)}*`, random.choose(AGENTS)])],
                      ...client(),
                    }
                  : kind < 94
                    ? {
                        client: [`10.${random.below(255)}.0.0/16`, `203.0.113.${random.below(255)}`],
                        host: [`.${host()}`],
                      }
                    : [
                        { ...client(), method: ['POST'] },
                        { ...country(), ...path() },
                      ];
    const unless = random.chance(0.15) ? { unless: { path: ['/robots.txt'] } } : {};
    const stance = random.chance(0.1) ? { stance: 'observe' as const } : {};
    return { rule: `rule-${index}`, when, ...unless, ...stance, then: random.choose(['allow', 'block'] as const) };
  };
  return Array.from({ length: rules }, (_, index) => rule(index));
}

function policyText(rules: number, edit: string): string {
  const all = largeRules(rules).map((rule) => `  - ${JSON.stringify(rule)}`);
  if (edit !== '') all[rules >> 1] = `  - ${edit}`;
  return `policy: large\ndefault: allow\nrules:\n${all.join('\n')}\n`;
}
