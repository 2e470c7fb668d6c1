import { type HostAddress, hostAddressesIn, hostsIn } from '@jade-fence/core/destination';
import type { HostRequests } from '@jade-fence/core/replay';
import { unpackTable } from '../../log/packing.js';

/** The hosts of a chunk as it is stored whose requests do not show where they go, each with its requests. */
export const hostsOfChunk = (packed: Uint8Array): HostRequests[] => hostsIn(unpackTable(packed));

/** The hosts of a chunk as it is stored, with the addresses that requests to them went to. */
export const hostAddressesOfChunk = (packed: Uint8Array): HostAddress[] => hostAddressesIn(unpackTable(packed));
