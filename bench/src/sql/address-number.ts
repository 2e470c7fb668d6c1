import type { Address } from '@jade-fence/core/address';

/** An address as one number of 128 bits, IPv4 as IPv4-mapped IPv6. */
export const addressNumber = (address: Address): bigint =>
  address.family === 4
    ? 0xffff00000000n + BigInt(address.value)
    : address.words.reduce((number, word) => number * 2n ** 32n + BigInt(word), 0n);
