import fc from 'fast-check';
import { expect, it } from 'vitest';
import { type Address, compareAddresses, formatAddress, parseAddress } from '../address/index.js';
import { addressCodes, addressOf } from '../column/index.js';
import { chunkFacts, classOf, createRouter, prepare } from '../engine/index.js';
import { forwardingText } from '../hostile/forwarding.arbitrary.js';
import { ChunkBuilder } from '../log/index.js';
import { type ClientTrust, findClient, makeRequest, type Request } from '../request/index.js';
import { readWorkspace } from '../workspace/index.js';
import { addressIn } from './client-column.js';
import { ChunkClients } from './clients.js';
import { Routing } from './routing.js';

const POLICIES = `
policy: by-peer
default: allow
covers: {clients: [10.0.0.0/8, "2001:db8::/32"]}
---
policy: by-header
default: allow
client: {from: {header: x-real-client}, trust: [10.10.1.0/28]}
covers: {clients: [10.40.0.0/16, 198.18.0.0/15]}
---
policy: by-forwarding
default: allow
client: {from: forwarded, trust: [10.10.1.0/28, "2001:db8:10::/64"]}
covers: {hosts: [.fennelhill.example], clients: [10.40.7.0/24]}
---
policy: beside
default: allow
client: {from: forwarded, trust: ["2001:db8:10::/64", 10.10.1.0/28]}
covers: {hosts: [tickets.fennelhill.example]}
`;
const { workspace } = readWorkspace([{ name: 'policies.yaml', text: POLICIES }]);
const prepared = prepare(workspace, { countryData: undefined, at: 0 });
const trusts = [...prepared.trust.values()];
const shown = (each: Address | undefined) => each && formatAddress(each);

const address = fc.constantFrom(
  ...[
    '10.10.1.4',
    '10.10.1.9',
    '10.40.7.8',
    '10.40.9.1',
    '198.18.5.4',
    '203.0.113.7',
    '2001:db8:10::1',
    '2001:db8:40::7',
  ],
);
const said = fc.oneof(
  address,
  fc.array(address, { maxLength: 3 }).map((hops) => hops.join(', ')),
  address.map((hop) => `for="${hop.includes(':') ? `[${hop}]` : hop}"`),
  forwardingText,
  fc.constantFrom('unknown', '', '10.40.7.8:443', '010.1.1.1', '999.1.1.1', 'for=10.40.7.8, for=10.10.1.9'),
);
const request: fc.Arbitrary<Request> = fc
  .record({
    peer: fc.option(address, { nil: undefined }),
    host: fc.option(fc.constantFrom('tickets.fennelhill.example', 'a.fennelhill.example', 'b.example'), {
      nil: undefined,
    }),
    headers: fc.dictionary(
      fc.constantFrom('forwarded', 'x-forwarded-for', 'x-real-client'),
      fc.array(said, { maxLength: 2 }),
      { maxKeys: 3 },
    ),
    allHeaders: fc.boolean(),
  })
  .map(({ peer, host, headers, allHeaders }) =>
    makeRequest({
      allHeaders,
      peer: peer === undefined ? undefined : parseAddress(peer),
      host,
      headers: new Map(Object.entries(headers)),
    }),
  );

function tableOf(requests: readonly Request[]) {
  const builder = new ChunkBuilder();
  for (const [at, each] of requests.entries()) builder.add(each, at + 1);
  return builder.build();
}

it('finds the client of each row of a chunk as that of each request by itself', () => {
  fc.assert(
    fc.property(fc.array(request, { minLength: 1, maxLength: 12 }), (requests) => {
      const clients = new ChunkClients(tableOf(requests), prepared);
      for (const trust of trusts) {
        const way = clients.way(trust);
        const found = requests.map((_, row) => addressIn(way, way.codes[row] as number));
        expect(found.map(shown)).toEqual(requests.map((each) => shown(findClient(each, trust).address)));
      }
    }),
    { numRuns: 300 },
  );
});

it('has one dictionary for the clients of several policies, in order, each with its class', () => {
  const policies = fc.subarray([...prepared.trust.keys()]);
  const { partition } = prepared.shared();
  fc.assert(
    fc.property(
      fc.array(request, { minLength: 1, maxLength: 12 }),
      policies,
      fc.boolean(),
      (requests, names, peers) => {
        const joined = new ChunkClients(tableOf(requests), prepared).joined(names, peers);
        const { dictionary } = joined;
        const rows = Uint32Array.from(requests.keys()).filter((row) => row % 3 !== 1);
        const asked = [...rows].map((row) => requests[row] as Request);
        const addresses = (codes: Uint32Array) => [...codes].map((code) => shown(addressOf(dictionary, code)));
        for (const name of names) {
          const { codes, classes } = joined.of(name, rows);
          const clients = asked.map((each) => findClient(each, prepared.trust.get(name) as ClientTrust).address);
          expect(addresses(codes)).toEqual(clients.map(shown));
          expect([...codes].map((code) => classes[code])).toEqual(
            clients.map((each) => (each ? classOf(partition, each) : -1)),
          );
        }
        if (peers) expect(addresses(joined.peers(rows))).toEqual(asked.map(({ peer }) => shown(peer)));
        const all = Array.from(
          { length: addressCodes(dictionary) - 1 },
          (_, at) => addressOf(dictionary, at + 1) as Address,
        );
        expect(all).toEqual([...all].sort(compareAddresses));
        expect(new Set(all.map(shown)).size).toBe(all.length);
      },
    ),
    { numRuns: 300 },
  );
});

it('sends each row of a chunk to the policy that its request goes to by itself', () => {
  const policies = [...workspace.policies.values()];
  const routing = new Routing(prepared, policies);
  const router = createRouter(prepared);
  fc.assert(
    fc.property(fc.array(request, { minLength: 1, maxLength: 12 }), (requests) => {
      const table = tableOf(requests);
      const routes = routing.route(chunkFacts(table, prepared.resolutions), new ChunkClients(table, prepared));
      const named = requests.map((_, row) => policies.find((_, at) => routes.byPolicy[at]?.includes(row))?.name);
      expect(named).toEqual(requests.map((each) => router.route(each)?.name));
      const all = [routes.uncovered, ...routes.byPolicy].flatMap((rows) => [...rows]);
      expect(all.sort((a, b) => a - b)).toEqual([...requests.keys()]);
    }),
    { numRuns: 300 },
  );
});

it('goes through the rows once for policies that take the client in the same way', () => {
  const trustOf = (policy: string) => prepared.trust.get(policy) as ClientTrust;
  expect(trustOf('beside')).toBe(trustOf('by-forwarding'));
  const clients = new ChunkClients(tableOf([makeRequest({})]), prepared);
  expect(clients.way(trustOf('by-peer'))).toBe(clients.peers);
});
