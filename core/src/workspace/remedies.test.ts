import { describe, expect, it } from 'vitest';
import { readWorkspace } from './index.js';

const LISTS = `
list: staff
of: users
entries: [ines.duarte]
---
list: partner-sites
of: domains
entries: [.seed-bank.example]
`;

/** The issues of a text: «code at path: remedy», beside the lists above. */
function shown(text: string): string[] {
  const { issues } = readWorkspace([
    { name: 'policy.yaml', text },
    { name: 'lists.yaml', text: LISTS },
  ]);
  return issues.map(({ code, path }) => `${code} at ${path}`);
}

const remedies = (text: string): string[] =>
  readWorkspace([
    { name: 'policy.yaml', text },
    { name: 'lists.yaml', text: LISTS },
  ]).issues.map(({ remedy }) => remedy);

const condition = (text: string): string =>
  `policy: p\ndefault: allow\nrules:\n  - rule: r\n    when: {${text}}\n    then: block\n`;
const action = (text: string): string => `policy: p\ndefault: allow\nrules:\n  - rule: r\n    then: ${text}\n`;

/** Every field that takes no list. */
const NO_LISTS = [
  ...['path', 'port', 'method', 'scheme', 'protocol', 'size', 'referrer'],
  ...['query.q', 'header.x', 'cookie.c'],
];
/** Every field that takes lists, with one of another sort. */
const OTHER_LISTS = {
  client: 'staff',
  peer: 'staff',
  country: 'staff',
  host: 'staff',
  url: 'staff',
  user: 'partner-sites',
  group: 'partner-sites',
  agent: 'staff',
};

describe('a list where none belongs', () => {
  it.each(NO_LISTS)('is reported in %s', (field) => {
    expect(shown(condition(`${field}: "list:staff"`))).toEqual([`no-list at rules[0].when.${field}`]);
    expect(shown(condition(`${field}: {not: ["list:staff"]}`))).toEqual([`no-list at rules[0].when.${field}.not[0]`]);
  });

  it.each(Object.entries(OTHER_LISTS))('of another sort is reported in %s', (field, list) => {
    expect(shown(condition(`${field}: "list:${list}"`))).toEqual([`wrong-list at rules[0].when.${field}`]);
  });

  it.each(Object.keys(OTHER_LISTS))('is reported in %s where it can be no list', (field) => {
    expect(shown(condition(`${field}: "list:Curators And Staff"`))).toEqual([
      `bad-list-name at rules[0].when.${field}`,
    ]);
    expect(remedies(condition(`${field}: "list:Curators And Staff"`))).toEqual([
      'Did you mean `list:curators-and-staff`?',
    ]);
  });

  it.each(['addresses', 'countries', 'domains', 'urls', 'users', 'agents'])(
    'is reported among entries of %s',
    (sort) => {
      expect(shown(`list: l\nof: ${sort}\nentries: ["list:staff"]\n`)).toEqual(['list-in-list at entries[0]']);
    },
  );
});

describe('what looks like a pattern and is none', () => {
  it.each([
    ['user: "b*"', 'bad-user at rules[0].when.user'],
    ['group: "*"', 'bad-user at rules[0].when.group'],
    ['method: "G*"', 'bad-method at rules[0].when.method'],
    ['method: present', 'bad-method at rules[0].when.method'],
    ['method: absent', 'bad-method at rules[0].when.method'],
    ['path: "/a?b=1"', 'bad-path at rules[0].when.path'],
    ['path: "/a#b"', 'bad-path at rules[0].when.path'],
    ['path: "*"', 'bad-path at rules[0].when.path'],
    ['path: "~"', 'bad-path at rules[0].when.path'],
    ['url: "~"', 'bad-url at rules[0].when.url'],
    ['header.x: "~"', 'bad-text at rules[0].when.header.x'],
    ['cookie.c: "~"', 'bad-text at rules[0].when.cookie.c'],
    ['agent: "~"', 'bad-text at rules[0].when.agent'],
    ['size: "< 0"', 'bad-size at rules[0].when.size'],
    ['header.x: {not: [present, absent]}', 'never-matches at rules[0].when.header.x'],
    ['query.q: {not: [absent, present]}', 'never-matches at rules[0].when.query.q'],
    ['client: "::ffff:0:0/95"', 'bad-address at rules[0].when.client'],
  ])('is reported for `%s`', (text, issue) => {
    expect(shown(condition(text))).toEqual([issue]);
  });

  it('says what a path pattern is, where a query or a fragment is in one', () => {
    const what = (text: string) => readWorkspace([{ name: 'p.yaml', text: condition(text) }]).issues[0]?.what;
    expect(what('path: "/a?b=1"')).toContain('test it by `query.NAME`');
    expect(what('path: "/a#b"')).toContain('never sent to a server');
  });
});

describe('a host that is more than a host', () => {
  it.each([
    ['tickets.fennelhill.example:443', 'host-with-port', '`port: [443]`'],
    ['http://tickets.fennelhill.example', 'host-is-url', 'under `url:`'],
    ['tickets.fennelhill.example/prices', 'host-is-url', 'under `url:`'],
    ['https://tickets.fennelhill.example:8443/x', 'host-is-url', 'under `url:`'],
  ])('%s says what it is and where that belongs, in rules, lists and what a policy covers', (text, code, remedy) => {
    for (const [document, path] of [
      [condition(`host: "${text}"`), 'rules[0].when.host'],
      [`list: l\nof: domains\nentries: ["${text}"]\n`, 'entries[0]'],
      [`policy: p\ndefault: allow\ncovers: {hosts: ["${text}"]}\n`, 'covers.hosts[0]'],
    ] as const) {
      expect(shown(document)).toEqual([`${code} at ${path}`]);
      expect(remedies(document)[0]).toContain(remedy);
    }
  });
});

describe('where the client is', () => {
  it.each(['socket', 'x-forwarded-for', 'Peer'])('is none of `from: %s`, and the three ways are named', (word) => {
    const text = `policy: p\ndefault: allow\nclient: {from: ${word}}\n`;
    expect(shown(text)).toEqual(['bad-client-source at client.from']);
    for (const way of ['`peer`', '`forwarded`', '`{header: NAME}`']) expect(remedies(text)[0]).toContain(way);
  });
});

describe('actions and limits', () => {
  it.each([
    ['{allow: {}}', 'bare-action at rules[0].then.allow'],
    ['{allow: {status: 200}}', 'bare-action at rules[0].then.allow'],
    ['{block: {status: 200}}', 'bad-number at rules[0].then.block.status'],
    ['{block: {status: 302}}', 'bad-number at rules[0].then.block.status'],
  ])('reports `then: %s`', (text, issue) => {
    expect(shown(action(text))).toEqual([issue]);
  });

  it('never offers what was just refused', () => {
    const texts = [
      ...NO_LISTS.map((field) => condition(`${field}: "list:staff"`)),
      ...['b*', '*', 'list:X'].map((user) => condition(`user: "${user}"`)),
      ...['{allow: {}}', 'alow', 'deny', '{allow: block}'].map(action),
      ...['a.example:443', 'http://a.example', 'a b', '*.*'].map((host) => condition(`host: "${host}"`)),
      'policy: p\ndefault: allow\nclient: {from: socket}\n',
    ];
    for (const text of texts)
      for (const issue of readWorkspace([{ name: 'policy.yaml', text }]).issues) {
        const refused = issue.excerpt.slice(issue.column - 1, issue.column - 1 + issue.length).replaceAll('"', '');
        const offered = [...issue.remedy.matchAll(/`([^`]+)`/g)].map((each) => each[1]);
        expect(offered, `${text}\n${issue.what}: ${issue.remedy}`).not.toContain(
          refused === 'allow' ? 'allow' : refused,
        );
      }
  });

  it.each(['[client, client]', '[header.x, client, header.x]', '[header.x, header.X]'])(
    'takes no key of `per: %s`',
    (per) => {
      expect(
        shown(
          `policy: p\ndefault: allow\nrules:\n  - rule: r\n    limit: {per: ${per}, over: 5/1m}\n    then: block\n`,
        ),
      ).toContainEqual(expect.stringContaining('duplicate-key-part'));
    },
  );
});

describe('schedules', () => {
  const weekly = (text: string) => shown(`schedule: s\nzone: Europe/Lisbon\nweekly: {${text}}\n`);

  it('take a single day before a span of days that it lies in', () => {
    expect(weekly('mon-fri: 09:00-17:00, wed: closed')).toEqual([]);
    expect(weekly('wed: closed, mon-fri: 09:00-17:00')).toEqual([]);
  });

  it('report two spans that share a day', () => {
    expect(weekly('mon-wed: 09:00-17:00, wed-fri: 10:00-11:00')).toEqual([expect.stringContaining('overlapping-days')]);
    expect(weekly('fri-mon: 09:00-17:00, sun-tue: 10:00-11:00')).not.toEqual([]);
  });
});

describe('lists of users', () => {
  it('hold nobody who is nobody', () => {
    expect(shown('list: l\nof: users\nentries: [anonymous, b.lima]\n')).toEqual(['anonymous-in-list at entries[0]']);
  });
});
