import { describe, expect, it } from 'vitest';
import { describeObjects, readWorkspace } from './index.js';

const issuesOf = (text: string): string[] =>
  readWorkspace([{ name: 'w.yaml', text }]).issues.map(({ code, path }) => (path === '' ? code : `${code} at ${path}`));

const rule = (keys: string): string[] =>
  issuesOf(`policy: p\ndefault: block\nrules:\n  - rule: r\n${keys.replace(/^/gm, '    ')}`);

const ALL = `
category: wagering
domains: [.lucky-petal.example, sites]
urls: [a.example/x/**]
---
list: sites
of: domains
entries: [b.example]
---
application: web
when: [{port: 80}, {scheme: https, host: .a.example}]
category: wagering
risk: 2
needs: [names]
---
application: names
when: {port: 53, protocol: DNS}
---
schedule: open
zone: Europe/Lisbon
weekly: {mon-fri: ["09:00-12:00"], sat: closed}
---
notice: not-here
status: 403
title: Not here
contact: gate@fennelhill.example
---
corrections: own
networks: {10.0.0.0/8: XG, 203.0.113.7: private}
---
probe: desk
client: 10.0.0.1
user: Ines
groups: [staff]
agent: absent
---
check: reach
destinations: {site: https://a.example/x, tunnel: {tunnel: "b.example:443"}}
expect: {desk: {site: {verdict: allow, rule: r}, tunnel: block}}
policy: p
---
policy: p
default: {block: {status: 451, notice: not-here}}
rules:
  - {rule: r, when: {category: [wagering], application: {not: [unidentified]}, time: open, user: "list:people"}, then: {confirm: {for: 1h, notice: not-here}}}
---
list: people
of: users
entries: [Ines]
`;

describe('documents of every kind', () => {
  it('are read, linked and described in a sentence each', () => {
    const { workspace, issues } = readWorkspace([{ name: 'all.yaml', text: ALL }]);
    expect(issues).toEqual([]);
    expect(describeObjects(workspace).map(({ kind, name, sentence }) => `${kind} ${name}: ${sentence}`)).toEqual([
      'category wagering: Holds 2 domains and one URL, by name, pattern or list.',
      'application web: Known by requests to port 80, or requests to a.example with its subdomains over https, of the category `wagering`, of risk 2; it needs `names`.',
      'application names: Known by requests to port 53 over DNS.',
      'schedule open: Monday to Friday 09:00-12:00 (Europe/Lisbon).',
      'notice not-here: Shows “Not here”, with status 403, and whom to ask: gate@fennelhill.example.',
      'corrections own: 10.0.0.0/8 is in XG, 203.0.113.7 is in private address space.',
      'probe desk: The user ines of staff at 10.0.0.1 without a user agent.',
      'check reach: 2 answers of 1 probe at 2 destinations, judged by `p`.',
    ]);
  });

  it.each([
    [
      'application: a\nwhen: {port: 1}\nneeds: [b]\n---\napplication: b\nwhen: {port: 2}\nneeds: [a]',
      ['cyclic-needs at needs[0]'],
    ],
    ['application: a\nwhen: {port: 1}\nneeds: [c]', ['unknown-name at needs[0]']],
    ['application: a\nwhen: {country: PT}', ['unknown-key at when.country']],
    ['application: unidentified\nwhen: {port: 1}', ['reserved-name at application']],
    ['category: uncategorised', ['reserved-name at category']],
    ['category: c\nurls: [a.example]', ['bad-url at urls[0]']],
    ['schedule: s\nzone: Europe/Lisboa\nweekly: {mon: ["9:00-12:00"]}', ['bad-zone at zone']],
    [
      'schedule: s\nzone: UTC\nweekly: {monday: ["09:00-12:00"], tue: ["09:00-09:00", "25:00-26:00"]}\nexcept: {2026-02-30: closed}',
      [
        'bad-day at weekly.monday',
        'bad-span at weekly.tue[0]',
        'bad-span at weekly.tue[1]',
        'bad-date at except.2026-02-30',
      ],
    ],
    ['notice: n\nstatus: 99\ntitle: "{hots}"', ['bad-number at status', 'unknown-value at title']],
    [
      'corrections: a\nnetworks: {10.0.0.1/8: PT, 10.0.0.0/8: Portugal}',
      ['host-bits at networks.10.0.0.1/8', 'bad-country at networks.10.0.0.0/8'],
    ],
    [
      'corrections: a\nnetworks: {10.0.0.0/8: PT}\n---\ncorrections: b\nnetworks: {10.0.0.0/8: ES}',
      ['conflicting-corrections at networks.10.0.0.0/8'],
    ],
    ['probe: p\nclient: 10.0.0.0/8\nheaders: {"a b": x}', ['bad-address at client', 'bad-header at headers.a b']],
    [
      'check: c\ndestinations: {a: nowhere}\nexpect: {ghost: {a: allow, b: deny}}',
      [
        'bad-destination at destinations.a',
        'unknown-name at expect.ghost',
        'unknown-value at expect.ghost.a',
        'unknown-value at expect.ghost.b',
        'unknown-value at expect.ghost.b',
      ],
    ],
    ['shedule: s', ['unknown-document']],
  ])('say what is wrong with %j', (text, expected) => {
    expect(issuesOf(text).sort()).toEqual([...expected].sort());
  });
});

describe('what a rule does', () => {
  it.each([
    ['then: {block: {status: 200}}', ['bad-number at rules[0].then.block.status']],
    ['then: {block: {notice: nowhere}}', ['unknown-name at rules[0].then.block.notice']],
    ['then: redirect', ['incomplete-action at rules[0].then']],
    ['then: {redirect: "javascript:alert(1)"}', ['bad-redirect at rules[0].then.redirect']],
    ['then: {unlock: {}}', ['missing-key at rules[0].then.unlock']],
    ['then: {confirm: {for: 10y}}', ['bad-duration at rules[0].then.confirm.for']],
    ['then: {tag: [a], block: {}}', ['second-action at rules[0].then.block']],
    ['then: block\nrecord: loud', ['unknown-value at rules[0].record']],
    ['then: block\nlimit: {more-than: 0, within: 1m, per: []}', ['bad-limit at rules[0].limit.more-than']],
    ['then: block\nlimit: {more-than: 5, within: 0s, per: []}', ['bad-duration at rules[0].limit.within']],
    ['then: block\nlimit: {more-than: 5, within: 3650d, per: []}', ['bad-duration at rules[0].limit.within']],
    [
      'then: block\nlimit: {more-than: 5, within: 1m, per: [time, client/200, weather]}',
      ['bad-key at rules[0].limit.per[0]', 'bad-key at rules[0].limit.per[1]', 'bad-key at rules[0].limit.per[2]'],
    ],
    ['then: block\nlimit: {more-than: 5}', ['missing-key at rules[0].limit', 'missing-key at rules[0].limit']],
    ['then: block\nwhen: {header.: x}', ['unknown-key at rules[0].when.header.']],
    ['then: block\nwhen: {"header.X-A": x, "header.x-a": y}', ['duplicate-key at rules[0].when.header.x-a']],
    ['then: block\nwhen: {size: "1MiB"}', ['bad-size at rules[0].when.size']],
    ['then: block\nwhen: {agent: "~(?=a)"}', ['bad-text at rules[0].when.agent']],
    ['then: block\nwhen: {agent: "~((a{100}){100}){100}"}', ['bad-text at rules[0].when.agent']],
    ['then: block\nwhen: {category: wagerin}', ['unknown-name at rules[0].when.category']],
    ['then: block\nwhen: {time: never}', ['unknown-name at rules[0].when.time']],
    [`then: block\nwhen: {user: "${'u'.repeat(300)}"}`, ['bad-user at rules[0].when.user']],
    [`then: block\nwhen: {host: ${'h'.repeat(300)}}`, ['bad-host at rules[0].when.host']],
  ])('is checked: %j', (keys, expected) => {
    expect(rule(keys).map((each) => each.replace(/ at rules\[0\]\.limit$/, ' at rules[0].limit'))).toEqual(expected);
  });

  it('is reported all at once, of 5,000 rules too many in bounded time', () => {
    const many = Array.from(
      { length: 5000 },
      (_, at) => `  - {rule: r${at}, when: {country: Atlantis}, then: nothing}`,
    ).join('\n');
    const started = performance.now();
    expect(issuesOf(`policy: p\ndefault: block\nrules:\n${many}`)).toEqual(['too-many at rules']);
    expect(performance.now() - started).toBeLessThan(10_000);
  });
});
