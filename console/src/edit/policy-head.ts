import { withKey } from '@jade-fence/core/edit';
import { isMap, isScalar, parseDocument } from 'yaml';
import { readYaml } from './yaml-value.js';

/** The keys of a policy as people write them; its rules come last. */
const ORDER = ['policy', 'note', 'covers', 'client', 'destinations', 'paths', 'default', 'stance', 'redact', 'rules'];

/** All that a policy says beside its rules, as a form shows it. What is not written is what holds without it. */
export interface HeadValue {
  readonly note: string;
  readonly hosts: readonly string[];
  readonly clients: readonly string[];
  readonly from: 'peer' | 'forwarded' | 'header';
  readonly header: string;
  readonly trust: readonly string[];
  readonly resolve: boolean;
  readonly slashes: string;
  readonly case: string;
  readonly parameters: string;
  readonly default: unknown;
  readonly stance: string;
  readonly redact: readonly string[];
}

/** The head of a policy's text; or what keeps it from being read. */
export function readHead(text: string): HeadValue | { readonly faults: readonly string[] } {
  const read = readYaml(text);
  if ('faults' in read) return read;
  const { value } = read;
  if (!isRecord(value)) return { faults: ['a policy is a map of keys'] };
  const { note, covers, client, destinations, paths, stance, redact } = value;
  const from = isRecord(client) ? client.from : undefined;
  const pathOf = (key: string, usual: string) => (isRecord(paths) ? textOf(paths[key], usual) : usual);
  return {
    note: textOf(note, ''),
    hosts: wordsOf(isRecord(covers) ? covers.hosts : undefined),
    clients: wordsOf(isRecord(covers) ? covers.clients : undefined),
    from: isRecord(from) ? 'header' : from === 'forwarded' ? 'forwarded' : 'peer',
    header: isRecord(from) ? textOf(from.header, '') : '',
    trust: wordsOf(isRecord(client) ? client.trust : undefined),
    resolve: isRecord(destinations) && destinations.resolve === true,
    slashes: pathOf('slashes', 'merge'),
    case: pathOf('case', 'keep'),
    parameters: pathOf('parameters', 'keep'),
    default: value.default ?? 'block',
    stance: textOf(stance, 'enforce'),
    redact: wordsOf(redact),
  };
}

const isRecord = (value: unknown): value is Readonly<Record<string, unknown>> =>
  value !== null && typeof value === 'object' && !Array.isArray(value);
const textOf = (value: unknown, usual: string): string =>
  value === null || value === undefined ? usual : String(value);
const wordsOf = (value: unknown): string[] =>
  value === null || value === undefined ? [] : [value].flat().map((each) => String(each));

/** What a form writes of each part of the head: the key of the policy, and its value; undefined takes the key out. */
export function writtenHead(value: HeadValue, part: keyof HeadValue): readonly [key: string, value: unknown] {
  switch (part) {
    case 'hosts':
    case 'clients':
      return ['covers', notEmpty({ hosts: some(value.hosts), clients: some(value.clients) })];
    case 'from':
    case 'header':
    case 'trust':
      return ['client', clientOf(value)];
    case 'resolve':
      return ['destinations', value.resolve ? { resolve: true } : undefined];
    case 'slashes':
    case 'case':
    case 'parameters':
      return [
        'paths',
        notEmpty({
          slashes: unless(value.slashes, 'merge'),
          case: unless(value.case, 'keep'),
          parameters: unless(value.parameters, 'keep'),
        }),
      ];
    case 'note':
      return ['note', unless(value.note, '')];
    case 'stance':
      return ['stance', unless(value.stance, 'enforce')];
    case 'redact':
      return ['redact', some(value.redact)];
    case 'default':
      return ['default', value.default];
  }
}

function clientOf({ from, header, trust }: HeadValue): unknown {
  if (from === 'peer') return undefined;
  return { from: from === 'header' ? { header: header || 'x-client' } : 'forwarded', trust: [...trust] };
}

const some = (words: readonly string[]): readonly string[] | undefined => (words.length === 0 ? undefined : words);
/** Values that are left out of the text, as they are the defaults. */
const unless = (word: string, usual: string): string | undefined => (word === usual ? undefined : word);

function notEmpty(value: Readonly<Record<string, unknown>>): unknown {
  const kept = Object.entries(value).filter(([, each]) => each !== undefined);
  return kept.length === 0 ? undefined : Object.fromEntries(kept);
}

/** Sets a key of a policy's head, or takes it out where there is no value. Its rules stay to the letter. */
export function withHeadKey(policy: string, key: string, value: unknown): string {
  const cut = policy.search(/^rules:/m);
  const isLast = keysOf(policy).at(-1) === 'rules';
  // Where keys come behind the rules, the head is not what is above them.
  if (cut < 0 || !isLast) return withKey(policy, key, value, ORDER);
  return withKey(policy.slice(0, cut), key, value, ORDER) + policy.slice(cut);
}

function keysOf(policy: string): string[] {
  const { contents } = parseDocument(policy);
  return isMap(contents) ? contents.items.map(({ key }) => (isScalar(key) ? String(key.value) : '')) : [];
}

/** A policy of the name that says the same and covers nothing, so that both can be published. */
export function duplicateOf(policy: string, name: string): string {
  return withHeadKey(withHeadKey(policy, 'covers', undefined), 'policy', name);
}

/** The text of a new policy, as a person would begin it. */
export function newPolicy(
  name: string,
  { hosts, clients }: Pick<HeadValue, 'hosts' | 'clients'>,
  then: string,
): string {
  const named = withHeadKey(`default: ${then}\nrules: []\n`, 'policy', name);
  return withHeadKey(named, 'covers', notEmpty({ hosts: some(hosts), clients: some(clients) }));
}
