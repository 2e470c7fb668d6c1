import { type Address, formatAddress } from '../../address/index.js';
import { MOST_ADDRESSES } from '../answer.js';
import type { Gather } from './gather.js';
import { type ZoneEntry, zoneEntries } from './zone-entries.js';

const CLASSES = /^(?:IN|CH|HS|CS|ANY)$/i;
/** A type of records: a mnemonic, or a number as RFC 3597 writes those without one. */
const TYPE = /^(?:[A-Z][A-Z0-9-]*|TYPE\d+)$/i;
const TTL = /^\d+(?:[smhdw]\d+)*[smhdw]?$/i;
const UNITS: Readonly<Record<string, number>> = { s: 1, m: 60, h: 3600, d: 86_400, w: 604_800 };
const MOST_SECONDS = 2_147_483_647;
/** Chains of aliases that are longer than this are not followed. */
const LONGEST_CHAIN = 16;
/** A few long lines can give a million aliases hundreds of addresses each. */
const MOST_BY_ALIASES = 4_000_000;

interface Held {
  readonly address: Address;
  readonly holds: number | undefined;
}

interface Alias {
  readonly to: string;
  readonly holds: number | undefined;
  readonly line: number;
}

/**
 * Reads a zone file (RFC 1035, section 5): addresses (A, AAAA) and aliases (CNAME), which are followed within the file.
 * Other records are passed over. `origin` is what relative names are under until the file says `$ORIGIN`.
 */
export function readZoneFile(text: string, gather: Gather, origin: string | undefined): undefined {
  new ZoneReader(gather, origin).read(text);
}

class ZoneReader {
  readonly #gather: Gather;
  readonly #aliases = new Map<string, Alias>();
  /** The addresses of each name, for the aliases to it. */
  readonly #addresses = new Map<string, Map<string, Held>>();
  #byAliases = 0;
  #origin: string | undefined;
  #ttl: number | undefined;
  #owner: string | undefined;

  constructor(gather: Gather, origin: string | undefined) {
    this.#gather = gather;
    this.#origin = origin && withoutDot(origin);
  }

  read(text: string): undefined {
    for (const entry of zoneEntries(text, this.#gather)) {
      const [first = ''] = entry.words;
      if (first.startsWith('$') && !entry.isIndented) this.#direct(entry);
      else this.#record(entry);
    }
    for (const [host, alias] of this.#aliases) this.#follow(host, alias);
  }

  #direct({ words: [name = '', value = ''], line, text }: ZoneEntry): undefined {
    const isKnown = name.toUpperCase() === '$ORIGIN' || name.toUpperCase() === '$TTL';
    if (!isKnown) return this.#gather.fault(line, 'directive', text);
    if (name.toUpperCase() === '$TTL') {
      this.#ttl = TTL.test(value) ? secondsOf(value) : this.#gather.fault(line, 'holds', value);
      return;
    }
    const absolute = this.#absolute(value, line);
    if (absolute !== undefined) this.#origin = absolute;
  }

  /** A record: `[owner] [ttl] [class] type data`, the middle two in either order. */
  #record({ words, line, text, isIndented }: ZoneEntry): undefined {
    const rest = [...words];
    const owner = isIndented ? this.#owner : this.#absolute(rest.shift() as string, line);
    if (!isIndented) this.#owner = owner;
    let holds = this.#ttl;
    for (let word = rest[0]; word !== undefined && (TTL.test(word) || CLASSES.test(word)); word = rest[0]) {
      if (TTL.test(word)) holds = secondsOf(word);
      rest.shift();
    }
    const [type = '', data] = rest;
    if (!TYPE.test(type) || data === undefined) return this.#gather.fault(line, 'record', text);
    const kind = type.toUpperCase();
    if (kind !== 'A' && kind !== 'AAAA' && kind !== 'CNAME') return;
    if (owner === undefined) return isIndented ? this.#gather.fault(line, 'record', text) : undefined;
    if (owner.startsWith('*')) return this.#gather.fault(line, 'wildcard', owner);
    const host = this.#gather.host(owner, line);
    if (host === undefined) return;
    if (kind === 'CNAME') this.#alias(host, data, holds, line);
    else this.#address(host, kind, data, holds, line);
  }

  #address(host: string, kind: 'A' | 'AAAA', data: string, holds: number | undefined, line: number): undefined {
    const address = this.#gather.address(data, line);
    if (address === undefined) return;
    if ((address.family === 4) !== (kind === 'A')) return this.#gather.fault(line, 'address', `${kind} ${data}`);
    const known = this.#addresses.get(host) ?? new Map<string, Held>();
    this.#addresses.set(host, known);
    const text = formatAddress(address);
    if (known.size < MOST_ADDRESSES || known.has(text))
      known.set(text, { address, holds: shorter(known.get(text)?.holds, holds) });
    this.#gather.add(host, address, line, { holds });
  }

  #alias(host: string, data: string, holds: number | undefined, line: number): undefined {
    const name = this.#absolute(data, line);
    const to = name === undefined ? undefined : this.#gather.host(name, line);
    if (to !== undefined && !this.#aliases.has(host)) this.#aliases.set(host, { to, holds, line });
  }

  /** Gives an alias the addresses that the end of its chain has. The shortest of all times to live counts. */
  #follow(host: string, { to, holds, line }: Alias): undefined {
    let [name, least] = [to, holds];
    const met = new Set([host]);
    while (this.#aliases.has(name)) {
      if (met.has(name) || met.size > LONGEST_CHAIN) return this.#gather.fault(line, 'loop', `${host} CNAME ${to}`);
      met.add(name);
      const next = this.#aliases.get(name) as Alias;
      least = shorter(least, next.holds);
      name = next.to;
    }
    const addresses = this.#addresses.get(name);
    if (addresses === undefined) return this.#gather.fault(line, 'outside', `${host} CNAME ${to}`);
    this.#byAliases += addresses.size;
    if (this.#byAliases > MOST_BY_ALIASES) return this.#gather.fault(line, 'too-many', `${host} CNAME ${to}`);
    for (const { address, holds: own } of addresses.values())
      this.#gather.add(host, address, line, { holds: shorter(least, own) });
  }

  /** A name with its origin, without the last dot; undefined where it is relative and there is no origin. */
  #absolute(name: string, line: number): string | undefined {
    if (name.endsWith('.')) return withoutDot(name);
    if (this.#origin === undefined) return this.#gather.fault(line, 'no-origin', name);
    return name === '@' ? this.#origin : this.#origin === '' ? name : `${name}.${this.#origin}`;
  }
}

const withoutDot = (name: string): string => name.replace(/\.$/, '');

const shorter = (a: number | undefined, b: number | undefined): number | undefined =>
  a === undefined ? b : b === undefined ? a : Math.min(a, b);

function secondsOf(text: string): number {
  let seconds = 0;
  for (const [, digits = '', unit = 's'] of text.toLowerCase().matchAll(/(\d+)([smhdw]?)/g))
    seconds += Number(digits) * (UNITS[unit || 's'] as number);
  return Math.min(seconds, MOST_SECONDS);
}
