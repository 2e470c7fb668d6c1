import { type Address, formatAddress, tryAddress } from '../../address/index.js';
import { tryHost } from '../../domain/index.js';
import { type Answer, type AnswerSource, inOrder, MOST_ADDRESSES } from '../answer.js';
import { faultOf, type ResolutionFault, type ResolutionFaultCode } from '../fault.js';
import { literalOf } from '../resolutions.js';

/** A file of another kind is all faults. */
const MOST_FAULTS = 10_000;

/** Gathers the addresses of hosts from the lines of a file, with the faults of lines that are left out. */
export class Gather {
  readonly faults: ResolutionFault[] = [];
  /** How many faults there are; `faults` are the first of them. */
  faultCount = 0;
  readonly #from: AnswerSource;
  readonly #seen: number;
  readonly #hosts = new Map<string, Gathered>();

  /** `seen`: when all of it was seen, in milliseconds since 1970, where a line does not say. */
  constructor(from: AnswerSource, seen: number) {
    this.#from = from;
    this.#seen = seen;
  }

  fault(line: number, code: ResolutionFaultCode, text: string): undefined {
    this.faultCount++;
    if (this.faults.length < MOST_FAULTS) this.faults.push(faultOf(line, code, text));
    return undefined;
  }

  /** The host in normal form; undefined, with a fault, where the text is no name. */
  host(text: string, line: number): string | undefined {
    const found = tryHost(text);
    if (!('host' in found)) return this.fault(line, 'host', text);
    if (literalOf(found.host)) return this.fault(line, 'literal', text);
    return found.host;
  }

  address(text: string, line: number): Address | undefined {
    const found = tryAddress(text);
    return typeof found === 'string' ? this.fault(line, 'address', text) : found;
  }

  /** One address of a host; none: the host is known, and has none so far. The latest time and the shortest hold count. */
  add(
    host: string,
    address: Address | undefined,
    line: number,
    { seen = this.#seen, holds }: { readonly seen?: number | undefined; readonly holds?: number | undefined } = {},
  ): void {
    const known = this.#hosts.get(host);
    const gathered = known ?? { addresses: new Map(), seen, holds };
    if (known === undefined) this.#hosts.set(host, gathered);
    gathered.seen = Math.max(gathered.seen, seen);
    if (holds !== undefined) gathered.holds = Math.min(gathered.holds ?? holds, holds);
    if (address === undefined) return;
    const text = formatAddress(address);
    if (gathered.addresses.size >= MOST_ADDRESSES && !gathered.addresses.has(text))
      this.fault(line, 'too-many-addresses', `${host} ${text}`);
    else gathered.addresses.set(text, address);
  }

  get answers(): Answer[] {
    return [...this.#hosts].map(([host, { addresses, seen, holds }]) => ({
      host,
      addresses: inOrder([...addresses.values()]),
      seen,
      holds,
      from: this.#from,
    }));
  }
}

interface Gathered {
  readonly addresses: Map<string, Address>;
  seen: number;
  holds: number | undefined;
}
