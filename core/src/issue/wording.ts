import type { Fault, FaultCode, Shape } from './issue.js';

/** The fault and its remedy, each a sentence without its full stop. */
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
  'mapped-prefix': 'a network of IPv4 addresses in IPv6 form has a length of 96 to 128',
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
  'no-slash': 'a path starts with `/`, a pattern with `/` or `**`',
  query: 'the query is not part of the path; test it by `query.NAME`, or by `url`',
  fragment: 'a fragment (`#…`) is never sent to a server',
  'empty-expression': 'an expression of nothing matches everything',
  'too-long': 'a path pattern has at most 2,000 characters',
};

const URL_REASONS: Record<string, string> = {
  'too-long': 'a URL pattern has at most 2,000 characters',
  'no-path': 'it has no path, so it does not say how much of the host it means',
  port: 'a port is at most 65535',
  'empty-expression': 'an expression of nothing matches everything',
};

const TEXT_REASONS: Record<string, string> = {
  empty: 'the value is empty; write `absent` to match requests without it',
  'too-long': 'a pattern has at most 2,000 characters',
  'empty-expression': 'an empty expression matches everything; write `present` to match any text',
};

const ACTION_FORMS: Record<string, string> = {
  redirect: 'Write `redirect: "https://…"` with the address to go to',
  unlock: 'Write `unlock: {passcode: NAME}` with the name of the passcode',
  tag: 'Write `tag: [NAME]` with the tags to put on the request',
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
  'unknown-document': ({ found, known, suggestion }) => ({
    what: `This document starts with \`${found}\`, and no kind of document does`,
    remedy:
      meant(suggestion) ?? `Start it with its kind and its name, such as \`policy: NAME\`; known: ${quoted(known)}`,
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
    what: `\`${key}\` is in the same map twice`,
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
  'no-list': ({ text }) => ({
    what: `\`${text}\` names a list, and this field takes none`,
    remedy: 'Write the values one by one, each by itself',
  }),
  'list-in-list': ({ text, name }) => ({
    what: `\`${text}\` names a list, and entries are values`,
    remedy: `Write \`include: [${name}]\` beside \`entries\``,
  }),
  'bad-client-source': ({ text }) => ({
    what: `\`${text}\` does not say where the address of the client is`,
    remedy:
      'Write `peer` for the other end of the connection, `forwarded` for forwarding headers, or `{header: NAME}` for one header',
  }),
  'bare-action': ({ text }) => ({
    what: `\`${text}\` takes no settings`,
    remedy: `Write \`then: ${text}\`, without braces and a colon behind it`,
  }),
  'bad-list-name': ({ text, suggestion }) => ({
    what: `\`${text}\` cannot name a list: names have 1 to 64 of the characters a-z, 0-9 and -`,
    remedy: suggestion === undefined ? 'Write `list:` and the name of a list' : `Did you mean \`list:${suggestion}\`?`,
  }),
  'anonymous-in-list': () => ({
    what: 'A list of users has users, and `anonymous` is none',
    remedy: 'Leave it out of the list, and write `user: [anonymous, list:NAME]` to match both',
  }),
  'never-matches': () => ({
    what: 'Nothing is neither present nor absent, so this never matches',
    remedy: 'Leave out `present` or `absent`',
  }),
  'overlapping-days': ({ day, first, second }) => ({
    what: `\`${first}\` and \`${second}\` both say when ${day} is open`,
    remedy: `Part them, or give \`${day}\` a line of its own, which goes before both`,
  }),
  'duplicate-key-part': ({ text }) => ({
    what: `\`${text}\` is in the key twice`,
    remedy: 'Keep one',
  }),
  'host-is-url': ({ text }) => ({
    what: `\`${text}\` is a URL, and here belongs a host alone`,
    remedy: 'Write the host alone; a URL belongs under `url:`, or in a list of urls',
  }),
  'host-with-port': ({ text, host, port }) => ({
    what: `\`${text}\` has a port, and here belongs a host alone`,
    remedy: `Write \`${host}\`, and \`port: [${port}]\` as a condition of the rule`,
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
  'bad-method': ({ text }) => ({
    what: `\`${text}\` is not a method`,
    remedy: 'Write a token such as GET or POST; methods have no patterns, and `not: [GET]` is any other',
  }),
  'bad-token': ({ field, text }) => ({
    what: `\`${text}\` is not a ${field}`,
    remedy: field === 'scheme' ? 'Write one such as https' : 'Write one such as HTTP/1.1',
  }),
  'bad-port': ({ text }) => ({
    what: `\`${text}\` is not a port`,
    remedy: 'Write a number from 0 to 65535, or a range such as 8000-8099',
  }),
  'bad-redaction': ({ text, known }) => ({
    what: `\`${text}\` is nothing that can be redacted`,
    remedy: `Write ${known.map((each) => `\`${each}\``).join(', ')}; a prefix has 8 to 28 bits`,
  }),
  'bad-header': ({ text }) => ({
    what: `\`${text}\` is not the name of a header`,
    remedy: 'Write a token such as x-client-address',
  }),
  'bad-time': ({ text }) => ({
    what: `\`${text}\` is not a time of RFC 3339`,
    remedy: 'Write it with its zone, like 2026-12-01T18:00:00Z',
  }),
  'bad-url': ({ text, reason }) => ({
    what: `\`${text}\` is not a URL pattern: ${URL_REASONS[reason] ?? HOST_REASONS[reason] ?? reason}`,
    remedy:
      'Write `host.example/path`, `.host.example/**` for all of a site, or `~` and an expression of the RE2 syntax',
  }),
  'bad-text': ({ text, reason }) => ({
    what: `\`${text}\` is not a pattern: ${TEXT_REASONS[reason] ?? reason}`,
    remedy:
      'Write the text, the text with `*` for any characters, `~` and an expression of the RE2 syntax, `present` or `absent`',
  }),
  'bad-user': ({ text }) => ({
    what: `\`${short(text)}\` is not the name of a user or group`,
    remedy: 'Write a whole name of 1 to 256 characters, without control characters and stars, or `list:NAME`',
  }),
  'bad-size': ({ text }) => ({
    what: `\`${text}\` is not a size to compare with`,
    remedy: 'Write `<`, `<=`, `>` or `>=` and an amount, such as "> 1MiB" or "<= 4096"; nothing is smaller than 0',
  }),
  'bad-duration': ({ text, least, most }) => ({
    what: `\`${text}\` is not a time span from ${least} to ${most}`,
    remedy: 'Write a whole number and s, m, h or d, such as 30s, 10m, 2h or 1d',
  }),
  'bad-number': ({ text, what, least, most }) => ({
    what: `\`${text}\` is not ${what}`,
    remedy: `Write a whole number from ${least} to ${most}`,
  }),
  'bad-limit': ({ text, most }) => ({
    what: `\`${text}\` is not a number of requests, nor an amount of bytes, to stay under`,
    remedy: `Write a whole number from 1 to ${most.toLocaleString('en')}, or an amount such as 50MiB; to stop every request leave \`limit\` out`,
  }),
  'bad-key': ({ text }) => ({
    what: `\`${text}\` is not something that requests can be counted by`,
    remedy: 'Write a field such as client, host or header.NAME, or a network such as client/24 or client/64',
  }),
  'bad-zone': ({ text }) => ({
    what: `\`${text}\` is not a time zone`,
    remedy: 'Write a zone of the IANA database, such as Europe/Lisbon or UTC',
  }),
  'bad-day': ({ text }) => ({
    what: `\`${text}\` is not a day or a run of days`,
    remedy: 'Write one of mon, tue, wed, thu, fri, sat, sun, or two of them such as mon-fri',
  }),
  'bad-date': ({ text }) => ({ what: `\`${text}\` is not a date`, remedy: 'Write it like 2026-12-25' }),
  'bad-span': ({ text, reason }) => ({
    what:
      reason === 'empty'
        ? `\`${text}\` ends when it starts, so it would never hold`
        : `\`${text}\` is not a span of the day`,
    remedy: 'Write 09:00-12:00, 22:00-02:00 for one that runs over midnight, `open` for the whole day, or `closed`',
  }),
  'bad-redirect': ({ text }) => ({
    what: `\`${short(text)}\` is not an address to redirect to`,
    remedy: 'Write an absolute URL that starts with https:// or http://',
  }),
  'bad-destination': ({ text }) => ({
    what: `\`${short(text)}\` is not a destination`,
    remedy: 'Write an absolute URL such as https://tickets.example/, or {tunnel: "host.example:443"}',
  }),
  'second-action': ({ text }) => ({
    what: `\`${text}\` is a second thing to do, and a rule does one`,
    remedy: 'Keep one; what comes first decides, so give the other a rule of its own',
  }),
  'incomplete-action': ({ text }) => ({
    what: `\`${text}\` does not say enough by itself`,
    remedy: ACTION_FORMS[text] ?? 'Write it as a map',
  }),
  'too-long': ({ limit }) => ({
    what: `This text has more than ${limit.toLocaleString('en')} characters`,
    remedy: 'Shorten it',
  }),
  'unknown-name': ({ kind, name, suggestion }) => ({
    what: `\`${name}\` is not ${kind === 'application' ? 'an' : 'a'} ${kind}`,
    remedy: meant(suggestion) ?? `Define it with a document that starts with \`${kind}: ${name}\``,
  }),
  'cyclic-needs': ({ names }) => ({
    what: `The applications need each other in a circle: ${names.join(' → ')}`,
    remedy: 'Take one of the names out of `needs`',
  }),
  'conflicting-corrections': ({ network, country, other }) => ({
    what: `\`${network}\` is corrected to ${country} here, and to ${other} before`,
    remedy: 'Keep one; a narrower network inside it may have another country',
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

/** The message of a fault, for a person. */
export function wordingOf(fault: Fault): Wording {
  const word = WORDINGS[fault.code] as (fault: Fault) => Wording;
  return word(fault);
}

const LONGEST_SHOWN = 80;

const short = (text: string): string => (text.length > LONGEST_SHOWN ? `${text.slice(0, LONGEST_SHOWN)}…` : text);

function meant(suggestion: string | undefined): string | undefined {
  return suggestion === undefined ? undefined : `Did you mean \`${suggestion}\`?`;
}

function quoted(words: readonly string[]): string {
  return words.map((word) => `\`${word}\``).join(', ');
}
