import { expect, it } from 'vitest';
import { readWorkspace, userCounts, usersOfObject } from './index.js';

const TEXT = `
policy: web
covers: {clients: [10.0.0.0/8]}
default: {block: {notice: closed}}
rules:
  - {rule: games, when: {category: games}, then: {block: {notice: closed}}}
  - {rule: talk, unless: {application: talk}, when: {time: {not: nights}}, then: block}
---
category: games
domains: [games.example]
---
application: talk
when: {host: talk.example}
category: games
needs: [names]
---
application: names
when: {port: 53}
---
schedule: nights
zone: Europe/Lisbon
weekly: {mon-sun: "22:00-06:00"}
---
notice: closed
title: Not here
---
probe: desk
client: 10.1.2.3
---
check: reach
destinations: {talk: "https://talk.example/"}
expect: {desk: {talk: block}}
`;

const { workspace, issues } = readWorkspace([{ name: 'a.yaml', text: TEXT }]);
const users = (kind: string, name: string) =>
  usersOfObject(workspace, kind, name).map((each) => [each.kind, each.name, each.rule].filter(Boolean).join(' '));

it.each([
  ['category', 'games', ['policy web games', 'application talk']],
  ['application', 'talk', ['policy web talk']],
  ['application', 'names', ['application talk']],
  ['schedule', 'nights', ['policy web talk']],
  ['notice', 'closed', ['policy web games', 'policy web default']],
  ['probe', 'desk', ['check reach']],
  ['probe', 'nobody', []],
])('says who names the %s %s', (kind, name, expected) => {
  expect(issues).toEqual([]);
  expect(users(kind, name)).toEqual(expected);
});

it('counts who names each object', () => {
  expect(Object.fromEntries(userCounts(workspace))).toEqual({
    'category/games': 2,
    'application/talk': 1,
    'application/names': 1,
    'schedule/nights': 1,
    'notice/closed': 2,
    'probe/desk': 1,
  });
});
