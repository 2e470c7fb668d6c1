import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { describe, expect, it } from 'vitest';
import { isPrivateAddress, lookUpPublic, PrivateTarget } from './public-only.js';

const PRIVATE_4 = ['127.0.0.1', '10.0.0.1', '169.254.169.254', '192.168.1.1', '172.16.0.1', '100.64.0.1', '0.0.0.0'];
const PUBLIC_4 = ['9.9.9.9', '192.0.0.9', '172.32.0.1', '100.128.0.1'];

/** Every way in which an IPv4 address can be written as an IPv6 one, or be in one that a translator leads to. */
const FORMS: Record<string, (four: string) => string> = {
  'as it is': (four) => four,
  mapped: (four) => `::ffff:${four}`,
  'mapped, in hexadecimal': (four) => `::ffff:${hex(four)}`,
  compatible: (four) => `::${four}`,
  NAT64: (four) => `64:ff9b::${four}`,
  '6to4': (four) => `2002:${hex(four)}::1`,
  'in brackets': (four) => `[::ffff:${four}]`,
};

function hex(four: string): string {
  const [a = 0, b = 0, c = 0, d = 0] = four.split('.').map(Number);
  return `${((a << 8) | b).toString(16)}:${((c << 8) | d).toString(16)}`;
}

describe('where feeds and alerts may go', () => {
  it.each(Object.entries(FORMS))('refuses an address %s', (_, form) => {
    expect(PRIVATE_4.filter((four) => !isPrivateAddress(form(four)))).toEqual([]);
    expect(PUBLIC_4.filter((four) => isPrivateAddress(form(four)))).toEqual([]);
  });

  it.each([
    ...['::1', '::', 'fe80::1', 'fc00::1', 'fd12::1', 'fec0::1', 'feff::1', 'ff02::1', '2001:db8::1', '64:ff9b:1::1'],
    ...['5f00::1', '3fff::1', '100::1', '2001::1'],
  ])('is not %s', (text) => {
    expect(isPrivateAddress(text)).toBe(true);
  });

  it.each(['2a00::1', '2600::1', '2002:909:909::1', '2001:4860::1'])('may be %s', (text) => {
    expect(isPrivateAddress(text)).toBe(false);
  });

  it('is looked at when a name is looked up, by every way of asking', async () => {
    for (const all of [true, false]) {
      const error = await new Promise((done) => lookUpPublic('localhost', { all }, (found) => done(found)));
      expect(error).toBeInstanceOf(PrivateTarget);
    }
  });

  it('is the address that was looked at: a call to a name that leads here is not made', async () => {
    let calls = 0;
    const server = createServer((_, response) => {
      calls++;
      response.end();
    }).listen(0, '127.0.0.1');
    await once(server, 'listening');
    const { get } = await import('node:http');
    const { port } = server.address() as AddressInfo;
    const call = get({ host: 'localhost', port, lookup: lookUpPublic });
    const [error] = await once(call, 'error');
    expect([error instanceof PrivateTarget, calls]).toEqual([true, 0]);
    server.close();
  });
});
