import { BlockList } from 'node:net';
import { type Address, addressSet, formatAddress, networkOf, setContains } from '@jade-fence/core';
import { xoroshiro128plus } from 'pure-rand';
import type { Pair } from './measure.js';

const NETWORKS = 10_000;
const PROBES = 2_000;
const SEED = 1759;

/** A list of 10,000 networks asked about 2,000 addresses, against Node’s block list over the same. */
export function addressListPair(): Pair {
  const random = xoroshiro128plus(SEED);
  const next = (): Address => ({ family: 4, value: random.unsafeNext() >>> 0 });
  const networks = Array.from({ length: NETWORKS }, () => ({
    length: 16 + ((random.unsafeNext() >>> 0) % 17),
    base: next(),
  }));
  const probes = Array.from({ length: PROBES }, next);
  const set = addressSet(networks.map(({ base, length }) => networkOf(base, length)));
  const floor = new BlockList();
  for (const { base, length } of networks)
    floor.addSubnet(formatAddress(networkOf(base, length).first), length, 'ipv4');
  const texts = probes.map(formatAddress);
  return {
    name: 'address-list',
    unit: 'ms for 2,000 addresses in 10,000 networks',
    figure: () => {
      for (const probe of probes) setContains(set, probe);
    },
    floorName: 'net.BlockList',
    floor: () => {
      for (const text of texts) floor.check(text, 'ipv4');
    },
  };
}
