import { expect, it } from 'vitest';
import { HostsOfLog } from './index.js';

it('has the hosts with most requests, and counts those that are left', () => {
  const hosts = new HostsOfLog(2, () => true);
  hosts.add([
    ['a.example', 1],
    ['b.example', 2],
    ['c.example', 1],
  ]);
  hosts.add([['c.example', 5]]);
  expect([hosts.hosts, hosts.beyond]).toEqual([['c.example', 'b.example'], 1]);
});

it('gives no room to hosts that are known, so that the next look-up takes those that were left', () => {
  const all = Array.from({ length: 500 }, (_, at) => [`h${at}.example`, 1] as const);
  const known = new Set<string>();
  for (let run = 0; run < 5; run++) {
    const hosts = new HostsOfLog(100, (host) => !known.has(host));
    hosts.add(all);
    expect(hosts.hosts).toHaveLength(100);
    for (const host of hosts.hosts) known.add(host);
  }
  expect(known.size).toBe(all.length);
});

it('takes bounded memory of any number of hosts', () => {
  const hosts = new HostsOfLog(2, () => true);
  hosts.add(Array.from({ length: 100 }, (_, at) => [`h${at}.example`, 1] as const));
  expect([hosts.hosts.length, hosts.beyond]).toEqual([2, 98]);
});
