import type { Fault, FaultCode, Shape } from './issue.js';

/** What is wrong, and what would be right, each a sentence without its full stop's line. */
export interface Wording {
  readonly what: string;
  readonly remedy: string;
}

type Wordings = { readonly [C in FaultCode]: (fault: Extract<Fault, { code: C }>) => Wording };

const SHAPES: Record<Shape, string> = {
  map: 'a map (`key: value`)',
  list: 'a list (`[a, b]`)',
  word: 'a single value',
  nothing: 'nothing',
  'map or list': 'a map or a list',
  'word or map': 'a single value or a map',
};

const ADDRESS_REASONS: Record<string, string> = {
  empty: 'there is nothing in it',
  octet: 'each of the four numbers of an IPv4 address is at most 255',
  'leading-zero': 'a number of an IPv4 address has no leading zero',
  zone: 'an address in a rule has no zone',
  shape: 'an address is four numbers with dots, or IPv6 groups with colons',
  'prefix-length': 'the length behind the slash is 0 to 32 for IPv4 and 0 to 128 for IPv6',
  families: 'both ends of a range are of one family',
  reversed: 'the first end of a range is the lower one',
};

const HOST_REASONS: Record<string, string> = {
  empty: 'there is no name in it',
  'too-long': 'a host name has at most 253 characters',
  label: 'each part between dots has 1 to 63 letters, digits, `-` and `_`, and no `-` at an end',
  characters: 'a host name has letters, digits, `-` and `.`, and neither scheme, port nor path',
  address: 'it looks like an address and is none',
};

const PATH_REASONS: Record<string, string> = {
  'no-slash': 'a path starts with `/`',
  'too-long': 'a path pattern has at most 2,000 characters',
};

/** The one table of messages for workspace files. */
const WORDINGS: Wordings = {
  syntax: ({ detail }) => ({ what: `This is not YAML: ${detail}`, remedy: 'Mend the line, or put the text in quotes' }),
  alias: ({ text }) => ({
    what: `YAML reads \`${text}\` as an anchor or alias, and the text form has none`,
    remedy: `Put it in quotes: "${text}"`,
  }),
  'too-deep': () => ({
    what: 'The document is nested too deeply',
    remedy: 'A document has at most 100 levels, and none of ours needs ten',
  }),
  'too-large': ({ limit }) => ({
    what: `The file has more than ${limit.toLocaleString('en')} characters`,
    remedy: 'Part it into several files',
  }),
  'unknown-document': ({ found, suggestion }) => ({
    what: `A document starts with \`policy\` or \`list\`; this one starts with \`${found}\``,
    remedy: meant(suggestion) ?? 'Start it with `policy: NAME` or `list: NAME`',
  }),
  'wrong-shape': ({ expected, found }) => ({
    what: `Here belongs ${SHAPES[expected]}, and this is ${SHAPES[found]}`,
    remedy: `Write ${SHAPES[expected]}`,
  }),
  'missing-key': ({ key, known }) => ({
    what: `\`${key}\` is missing`,
    remedy: known.length > 0 ? `Add \`${key}:\` with one of ${quoted(known)}` : `Add \`${key}:\``,
  }),
  'unknown-key': ({ key, known, suggestion }) => ({
    what: `\`${key}\` is not known here`,
    remedy: meant(suggestion) ?? `Known here: ${quoted(known)}`,
  }),
  'duplicate-key': ({ key }) => ({
    what: `\`${key}\` stands twice in the same map`,
    remedy: 'Keep one; several values for a key go in one list',
  }),
  'bad-name': ({ text }) => ({
    what: `\`${text}\` is not a name`,
    remedy: 'A name has 1 to 64 of the characters a-z, 0-9 and -',
  }),
  'reserved-name': ({ text }) => ({
    what: `\`${text}\` cannot be the name of a rule, for it means what no rule decides`,
    remedy: 'Choose another name',
  }),
  'duplicate-document': ({ kind, name, first }) => ({
    what: `The ${kind} \`${name}\` is defined a second time; the first is in ${first}`,
    remedy: 'Rename one or delete one',
  }),
  'duplicate-rule': ({ name, policy }) => ({
    what: `The policy \`${policy}\` has another rule \`${name}\` above`,
    remedy: 'Give each rule of a policy its own name',
  }),
  'unknown-value': ({ text, known, suggestion }) => ({
    what: `\`${text}\` is not one of ${quoted(known)}`,
    remedy: meant(suggestion) ?? `Write one of ${quoted(known)}`,
  }),
  'unknown-list': ({ name, sort, suggestion }) => ({
    what: `\`${name}\` is not a list`,
    remedy: meant(suggestion) ?? `Define it: \`list: ${name}\` with \`of: ${sort}\``,
  }),
  'wrong-list': ({ name, sort, found }) => ({
    what: `\`${name}\` is a list of ${found}, and here belongs a list of ${sort}`,
    remedy: `Name a list of ${sort}, or move this to the field that takes ${found}`,
  }),
  'cyclic-include': ({ names }) => ({
    what: `The lists include each other in a circle: ${names.join(' → ')}`,
    remedy: 'Take one of the names out of `include`',
  }),
  'bad-address': ({ text, reason }) => ({
    what: `\`${text}\` is not an address, a network or a range: ${ADDRESS_REASONS[reason] ?? reason}`,
    remedy: 'Write it like 203.0.113.7, 203.0.113.0/24, 203.0.113.7-203.0.113.19 or 2001:db8::/32, or name a list',
  }),
  'host-bits': ({ text, network }) => ({
    what: `\`${text}\` has bits set behind its prefix`,
    remedy: `Did you mean the network \`${network}\`? For the one address leave out the slash`,
  }),
  'bad-country': ({ text, suggestion }) => ({
    what: `\`${text}\` is not a country code of ISO 3166-1`,
    remedy: meant(suggestion) ?? 'Write two letters such as PT, or `unknown`, `private`, or the name of a list',
  }),
  'bad-host': ({ text, reason }) => ({
    what: `\`${text}\` is not a host: ${HOST_REASONS[reason] ?? reason}`,
    remedy: 'Write `name.example`, `.name.example` with all under it, or "*.name.example" for only what is under it',
  }),
  'bad-path': ({ text, reason }) => ({
    what: `\`${text}\` is not a path pattern: ${PATH_REASONS[reason] ?? reason}`,
    remedy: 'Write `/exact`, `/one/*/segment`, `/all/under/**`, or `~` and an expression of the RE2 syntax',
  }),
  'bad-method': ({ text }) => ({ what: `\`${text}\` is not a method`, remedy: 'Write a token such as GET or POST' }),
  'bad-token': ({ field, text }) => ({
    what: `\`${text}\` is not a ${field}`,
    remedy: field === 'scheme' ? 'Write one such as https' : 'Write one such as HTTP/1.1',
  }),
  'bad-port': ({ text }) => ({
    what: `\`${text}\` is not a port`,
    remedy: 'Write a number from 0 to 65535, or a range such as 8000-8099',
  }),
  'bad-header': ({ text }) => ({
    what: `\`${text}\` is not the name of a header`,
    remedy: 'Write a token such as x-client-address',
  }),
  'bad-time': ({ text }) => ({
    what: `\`${text}\` is not a time of RFC 3339`,
    remedy: 'Write it with its zone, like 2026-12-01T18:00:00Z',
  }),
  'empty-condition': () => ({
    what: 'This holds nothing, so it would never match',
    remedy: 'Give at least one value, or leave the key out to match every request',
  }),
  'trust-without-source': () => ({
    what: '`trust` is of no use with `from: peer`',
    remedy: 'Leave `trust` out, or write `from: forwarded`',
  }),
  'missing-trust': ({ source }) => ({
    what: `The client is taken from ${source}, and nothing says which proxies may set it`,
    remedy: 'Add `trust: [LIST]` with the addresses of your own proxies',
  }),
  'too-many': ({ what, limit }) => ({
    what: `There are more than ${limit.toLocaleString('en')} ${what}`,
    remedy: 'Move values into lists, or part the policy in two',
  }),
  'overlapping-covers': ({ pattern, policy, other }) => ({
    what: `Both \`${other}\` and \`${policy}\` cover \`${pattern}\``,
    remedy: 'Leave it in one of them; a more specific host or network in the other is fine',
  }),
};

/** What to tell a person about a fault. */
export function wordingOf(fault: Fault): Wording {
  const word = WORDINGS[fault.code] as (fault: Fault) => Wording;
  return word(fault);
}

function meant(suggestion: string | undefined): string | undefined {
  return suggestion === undefined ? undefined : `Did you mean \`${suggestion}\`?`;
}

function quoted(words: readonly string[]): string {
  return words.map((word) => `\`${word}\``).join(', ');
}
