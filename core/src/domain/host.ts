import { formatAddress, tryAddress } from '../address/index.js';

/** Why a text is not a host. */
export type HostFault = 'empty' | 'too-long' | 'label' | 'characters' | 'address';

const PLAIN = /^[a-z0-9_](?:[a-z0-9_-]{0,61}[a-z0-9_])?(?:\.[a-z0-9_](?:[a-z0-9_-]{0,61}[a-z0-9_])?)*$/;
const LONGEST_NAME = 253;

/** A host in its one normal form, or why it has none. */
export type HostResult = { readonly host: string } | { readonly fault: HostFault };

/**
 * The normal form of a host name or literal address: lower case, IDNA to A-labels (UTS 46, by the WHATWG URL host
 * parser), no trailing dot; IPv6 in brackets as RFC 5952 writes it. Underscores are allowed, as they are in the wild.
 */
export function tryHost(text: string): HostResult {
  const bare = text.endsWith('.') ? text.slice(0, -1) : text;
  if (bare === '') return { fault: 'empty' };
  if (bare.startsWith('[') || bare.includes(':')) return literal(bare);
  const lower = bare.toLowerCase();
  if (PLAIN.test(lower) && !/(?:^|\.)(?:xn--|[0-9]+$|0x[0-9a-f]*$)/.test(lower)) return sized(lower);
  return viaUrl(bare);
}

/** The normal form of a host, or undefined. */
export function parseHost(text: string): string | undefined {
  const result = tryHost(text);
  return 'host' in result ? result.host : undefined;
}

function sized(name: string): HostResult {
  return name.length > LONGEST_NAME ? { fault: 'too-long' } : { host: name };
}

function literal(text: string): HostResult {
  const address = tryAddress(text.replace(/^\[(.*)\]$/, '$1'));
  if (typeof address === 'string') return { fault: 'address' };
  const plain = formatAddress(address);
  return { host: address.family === 6 ? `[${plain}]` : plain };
}

function viaUrl(text: string): HostResult {
  if (/[\s/?#@\\%<>^|"`{}:[\]]/.test(text)) return { fault: 'characters' };
  let name: string;
  try {
    name = new URL(`http://${text}/`).hostname;
  } catch {
    return { fault: /^[0-9.]+$/.test(text) ? 'address' : text.length > LONGEST_NAME ? 'too-long' : 'characters' };
  }
  if (/^[0-9.]+$/.test(name)) return name === text ? { host: name } : { fault: 'address' };
  if (name.length > LONGEST_NAME) return { fault: 'too-long' };
  return PLAIN.test(name) ? { host: name } : { fault: 'label' };
}
