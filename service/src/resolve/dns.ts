import { Resolver } from 'node:dns/promises';
import { type Address, parseAddress } from '@jade-fence/core/address';
import { type Answer, inOrder } from '@jade-fence/core/resolution';

const TIMEOUT_MS = 2000;
const TRIES = 2;
/** In seconds: who answers with less would be asked all the time, and with more would never be asked again. */
const LEAST_HOLD = 30;
const MOST_HOLD = 86_400;
/** How long it holds that a host has no address, and what one kind of address says while the other was not answered. */
const NONE_HOLDS = 300;
const HALF_HOLDS = 60;

/** Codes by which a server says that there is no such name, or no address of it. */
const NONE: readonly string[] = ['ENOTFOUND', 'ENODATA'];

const WHY: Readonly<Record<string, string>> = {
  ETIMEOUT: 'the servers did not answer in time',
  ECONNREFUSED: 'the servers take no questions',
  ESERVFAIL: 'the servers failed to look it up',
  EREFUSED: 'the servers refused to look it up',
  EBADRESP: 'the servers answered with what cannot be read',
  EFORMERR: 'the servers did not understand the question',
  ENOTIMP: 'the servers do not know the kind of question',
  EBADNAME: 'it is no name for DNS',
  ECANCELLED: 'it was cancelled',
};

/** An answer, or why there is none. */
export type Looked = { readonly answer: Answer } | { readonly why: string };

interface Found {
  readonly addresses: readonly Address[];
  readonly holds: number;
}

/** Asks DNS servers for the addresses of hosts, IPv4 and IPv6 (RFC 1035; over TCP where an answer is cut off, RFC 7766). */
export class DnsQuestions {
  readonly #resolver = new Resolver({ timeout: TIMEOUT_MS, tries: TRIES });
  readonly #name: string;

  /** Each server is an address, with a port behind a colon where it is not 53; IPv6 in brackets then. */
  constructor(servers: readonly string[]) {
    this.#resolver.setServers(servers);
    this.#name = servers.join(', ');
  }

  /** The addresses of a host in normal form. `now` is in milliseconds since 1970. */
  async look(host: string, now: number): Promise<Looked> {
    const [four, six] = await Promise.all([
      found(this.#resolver.resolve4(host, { ttl: true })),
      found(this.#resolver.resolve6(host, { ttl: true })),
    ]);
    const answered = [four, six].filter((each): each is Found => typeof each !== 'string');
    const addresses = answered.flatMap((each) => each.addresses);
    const failure = [four, six].find((each): each is string => typeof each === 'string');
    if (failure !== undefined && addresses.length === 0) return { why: WHY[failure] ?? `it failed with ${failure}` };
    const having = answered.filter((each) => each.addresses.length > 0);
    const holds = Math.min(
      ...having.map((each) => each.holds),
      failure !== undefined ? HALF_HOLDS : having.length === 0 ? NONE_HOLDS : MOST_HOLD,
    );
    return {
      answer: {
        ...{ host, addresses: inOrder(addresses), seen: now, holds: Math.max(holds, LEAST_HOLD) },
        from: { kind: 'dns', name: this.#name },
      },
    };
  }

  /** Ends all that is asked now. */
  cancel(): void {
    this.#resolver.cancel();
  }
}

/** The records of one kind; or the code of why nobody answered. */
async function found(
  records: Promise<readonly { readonly address: string; readonly ttl: number }[]>,
): Promise<Found | string> {
  try {
    const all = await records;
    const addresses = all.flatMap(({ address }) => parseAddress(address) ?? []);
    return { addresses, holds: Math.min(MOST_HOLD, ...all.map(({ ttl }) => ttl)) };
  } catch (error) {
    const { code = '' } = error as NodeJS.ErrnoException;
    return NONE.includes(code) ? { addresses: [], holds: MOST_HOLD } : code;
  }
}
