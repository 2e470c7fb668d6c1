import { expect, it } from 'vitest';
import { readWorkspace } from '../workspace/index.js';
import { defaultSentence, ruleSentence } from './index.js';

/*
 * All sentences of rules, to be read by a person: every field, negated and mixed, as a condition and as an exception; every
 * verdict, limit, stance and record. What changes of them shows in `sentences.txt`.
 */

const DEFINED = `
list: curators
of: addresses
entries: [10.40.0.0/16]
---
list: neighbours
of: countries
entries: [XF]
---
list: partners
of: domains
entries: [a.example]
---
list: advertisers
of: domains
entries: [b.example]
---
list: forms
of: urls
entries: ["a.example/forms/**"]
---
list: night-shift
of: users
entries: [ines]
---
list: harvesters
of: agents
entries: ["*harvester*"]
---
category: wagering
domains: [odds.example]
---
category: media
domains: [films.example]
---
application: moving-pictures
when: {host: [films.example]}
---
application: web
when: {port: [80, 443]}
---
schedule: opening-hours
zone: Europe/Lisbon
weekly: {mon-fri: [09:00-17:00]}
---
notice: not-here
status: 403
title: Not here
text: Not from here.
---
policy: others
default: allow
rules:
  - rule: tags
    when: {client: [curators]}
    then: {tag: [curator, staff]}
`;

/** For each field one value, two values, and one with words of its own. */
const VALUES: Readonly<Record<string, readonly string[]>> = {
  client: ['192.0.2.7', '10.0.0.0/8', 'curators'],
  peer: ['192.0.2.7', '10.0.0.0/8', 'curators'],
  destination: ['192.0.2.7', '198.51.100.1-198.51.100.9', 'curators'],
  country: ['PT', 'XF', 'neighbours', 'unknown', 'private'],
  'destination-country': ['PT', 'XF', 'neighbours', 'unknown', 'private'],
  host: ['tickets.example', '.example', '"*.example"', 'partners'],
  path: ['/sign-in', '"/admin/**"', '"~^/v[12]/"'],
  url: ['https://a.example/x', '"https://a.example/**"', 'list:forms'],
  category: ['wagering', 'media', 'uncategorised'],
  application: ['moving-pictures', 'web', 'unidentified'],
  tag: ['curator', 'staff'],
  method: ['POST', 'PUT'],
  scheme: ['https', 'http'],
  protocol: ['HTTP/1.1', 'HTTP/2.0'],
  port: ['443', '8000-8099'],
  user: ['ines', 'list:night-shift', 'anonymous'],
  group: ['botany', 'anonymous'],
  agent: ['"*curl*"', 'list:harvesters', 'absent', 'present', '"~bot"'],
  referrer: ['"*.example*"', 'https://a.example/', 'absent', 'present'],
  size: ['"> 1MiB"', '"<= 4KiB"'],
  time: ['opening-hours'],
  'header.x-api-key': ['secret', '"a*"', 'absent', 'present'],
  'query.q': ['fern', '"~[0-9]+"', 'absent', 'present'],
  'cookie.session': ['x', '"y*"', 'absent', 'present'],
};

const sets = ([first = '', second = first, ...more]: readonly string[]): string[] => [
  ...[first, second, ...more].filter((value, at, all) => all.indexOf(value) === at).map((value) => `[${value}]`),
  ...(second === first ? [] : [`[${first}, ${second}]`, `[{not: [${first}, ${second}]}]`]),
  `[{not: [${first}]}]`,
  ...(more.length > 0 ? [`[{not: [${more[0]}]}]`, `[${first}, {not: [${more[0]}]}]`] : []),
];

const CONDITIONS = Object.entries(VALUES).flatMap(([field, values]) => sets(values).map((set) => `{${field}: ${set}}`));

const TOGETHER = [
  '{host: [tickets.example], path: [/sign-in], method: [POST], country: [PT]}',
  '{method: [{not: [GET, HEAD]}], client: [curators], time: [opening-hours]}',
  '[{host: [tickets.example]}, {path: [/admin], client: [{not: [curators]}]}]',
  '{category: [{not: [wagering]}], application: [unidentified], user: [anonymous]}',
  '{destination-country: [{not: [PT]}], category: [media], client: [10.0.0.0/8]}',
  '{path: ["/map*", /back-office, "/back-office/**"]}',
  '{path: [{not: ["/map*", /back-office, "/back-office/**"]}]}',
  '{host: [partners, tickets.example, "list:advertisers"]}',
  '{url: ["https://a.example/**", list:forms, "https://b.example/x*"]}',
  '{host: [a.example, b.example, c.example, d.example, e.example, f.example, g.example, h.example]}',
];

const ACTIONS = [
  ...['allow', 'block', 'challenge', 'block: {status: 429}', 'block: {notice: not-here}'],
  ...['block: {status: 451, notice: not-here}', 'redirect: "https://why.example/"', 'confirm: {for: 1h}'],
  ...['unlock: {passcode: door, for: 30m}', 'tag: [curator]', 'tag: [curator, staff]'],
];

const LIMITS = [
  '{more-than: 5, within: 1m, per: [client, method], hold: 10m}',
  '{more-than: 1000, within: 1h, per: []}',
  '{more-than: 20, within: 30s, per: [client/24]}',
  '{more-than: 50MiB, within: 1d, per: [user]}',
  '{more-than: 1, within: 1s, per: [client/64, header.x-api-key, host], hold: 1m}',
];

const RULES = [
  ...CONDITIONS.flatMap((when) => [`when: ${when}, then: block`, `unless: ${when}, then: block`]),
  ...TOGETHER.flatMap((when) => [`when: ${when}, then: block`, `when: {method: [GET]}, unless: ${when}, then: allow`]),
  ...ACTIONS.flatMap((then) => {
    const action = then.includes(':') ? `{${then}}` : then;
    return [`then: ${action}`, `when: {client: [curators]}, then: ${action}`];
  }),
  ...LIMITS.map((limit) => `when: {path: [/sign-in]}, limit: ${limit}, then: block`),
  ...['observe', 'off'].map((stance) => `when: {path: [/x]}, then: block, stance: ${stance}`),
  ...['quiet', 'alert'].map((record) => `when: {path: [/x]}, then: block, record: ${record}`),
  'when: {path: [/x]}, unless: {client: [curators]}, limit: {more-than: 5, within: 1m, per: [client]}, then: {block: {notice: not-here}}, if-blind: match, stance: observe, record: alert',
];

function sentencesOf(rules: readonly string[]): string[] {
  const lines = rules.map((rule, at) => `  - {rule: r${at}, ${rule}}`);
  const text = `policy: p\ncovers: {hosts: [.example]}\ndefault: allow\nrules:\n${lines.join('\n')}\n`;
  const { workspace, issues } = readWorkspace([{ name: 'w.yaml', text: `${DEFINED.trim()}\n---\n${text}` }]);
  expect(issues).toEqual([]);
  const policy = workspace.policies.get('p');
  return (policy?.rules ?? []).map(ruleSentence);
}

it('are these', async () => {
  const shown = sentencesOf(RULES).map((sentence, at) => `${RULES[at]}\n    ${sentence}\n`);
  const defaults = ACTIONS.filter((then) => !then.startsWith('tag')).map((then) => {
    const action = then.includes(':') ? `{${then}}` : then;
    const { workspace } = readWorkspace([
      { name: 'w.yaml', text: `${DEFINED.trim()}\n---\npolicy: p\ndefault: ${action}\nrules: []\n` },
    ]);
    const policy = workspace.policies.get('p');
    return `default: ${action}\n    ${policy && defaultSentence(policy)}\n`;
  });
  await expect([...shown, ...defaults].join('\n')).toMatchFileSnapshot('./sentences.txt');
});
