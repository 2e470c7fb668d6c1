import { gathered, type RowKinds, zip } from '../../../column/index.js';
import { portOf, type Request } from '../../../request/index.js';
import type { UrlSeen } from '../../../url/index.js';
import type { Axis } from '../axis.js';
import type { ClassColumn } from '../class-column.js';
import { ClassTable } from '../classes.js';
import type { UrlMatcher } from '../match/urls.js';
import type { Block } from './block.js';
import { numbersOf } from './columns.js';
import { type Combinations, combine } from './combinations.js';
import { ClassMemo } from './memo.js';
import type { Source, SourcePlan } from './source.js';

/** A source of bit vectors over URLs, which several columns form together. */
export const urlSource = (axis: Axis, matcher: UrlMatcher): SourcePlan => ({
  axes: [axis],
  start: (words) => new UrlSource(axis, matcher, words),
});

const PARTS = ['host', 'path', 'query', 'scheme'];
/** Ports by number, and 0 for none. */
const PORTS = 65_537;

/** Whole URLs. Most hosts are in no pattern, and then nothing else of the URL is looked at. */
class UrlSource implements Source {
  readonly classes: ClassTable;
  readonly #matcher: UrlMatcher;
  readonly #memo = new ClassMemo();
  /** Whether patterns speak of a host and a path. */
  readonly #paths = new ClassMemo();

  constructor(axis: Axis, matcher: UrlMatcher, words: number) {
    this.classes = new ClassTable([axis], words);
    this.#matcher = matcher;
  }

  one(request: Request): number {
    return this.#classOf({ ...request, port: portOf(request) });
  }

  get columns(): readonly string[] {
    return [...PARTS, 'port'];
  }

  rows({ table, rows, kinds }: Block, room: Uint32Array): ClassColumn {
    const none = this.classes.number([{ matched: [] }]);
    let places = kinds.holds('host') ? this.#ofKinds(table, kinds) : this.#ofHosts(combine(table, ['host'], rows));
    if (places.length > 0) places = this.#ofPaths(table, rows, places);
    if (places.length === 0) return { codes: kinds.codes, classes: new Int32Array(kinds.examples.length).fill(none) };
    room.fill(none, 0, rows.length);
    this.#looked(table, rows, places, room);
    return { codes: room };
  }

  /** The places whose hosts patterns speak of. */
  #ofHosts(hosts: Combinations): Uint32Array {
    return placesOf(hosts.codes, this.#concerned(hosts));
  }

  /** The same, by the kinds. */
  #ofKinds(table: Block['table'], { codes, examples }: RowKinds): Uint32Array {
    const hosts = combine(table, ['host'], examples);
    const concerned = this.#concerned(hosts);
    return placesOf(
      codes,
      hosts.codes.map((code) => concerned[code] as number),
    );
  }

  /** 1 for the codes of hosts that patterns speak of. */
  #concerned(hosts: Combinations): Uint32Array {
    const concerned = new Uint32Array(hosts.count);
    for (let code = 0; code < concerned.length; code++)
      concerned[code] = this.#matcher.concerns(hosts.texts(code)[0]) ? 1 : 0;
    return concerned;
  }

  /** Of the places those whose paths patterns speak of too. */
  #ofPaths(table: Block['table'], rows: Uint32Array, places: Uint32Array): Uint32Array {
    const seen = combine(table, ['host', 'path'], gathered(rows, places));
    const { codes, count } = seen;
    const concerned = new Uint32Array(count);
    for (let code = 0; code < count; code++) {
      const [host, path] = seen.texts(code);
      concerned[code] = this.#concernsPath(host, path) ? 1 : 0;
    }
    return gathered(places, placesOf(codes, concerned));
  }

  #concernsPath(host: string | undefined, path: string | undefined): boolean {
    if (host === undefined || path === undefined) return true;
    return this.#paths.get([host, path], () => (this.#matcher.concernsPath(host, path) ? 1 : 0)) === 1;
  }

  /** The rows at the places, by all that their URLs show. */
  #looked(table: Block['table'], rows: Uint32Array, places: Uint32Array, into: Uint32Array): void {
    const own = gathered(rows, places);
    const seen = combine(table, PARTS, own);
    const ports = portsOf(table, own);
    // Each combination is looked at once.
    const { codes, first } = zip(seen.codes, seen.count, ports, PORTS);
    const classes = new Int32Array(first.length);
    for (const [code, index] of first.entries()) classes[code] = this.#classAt(seen, ports, index);
    for (let index = 0; index < places.length; index++)
      into[places[index] as number] = classes[codes[index] as number] as number;
  }

  #classAt(seen: Combinations, ports: Uint32Array, index: number): number {
    const [host, path, query, scheme] = seen.texts(seen.codes[index] as number);
    const port = portOf({ port: ports[index] === 0 ? undefined : (ports[index] as number) - 1, scheme });
    return this.#memo.get([host, path, query, scheme, port?.toString()], () =>
      this.#classOf({ host, path, query, scheme, port }),
    );
  }

  #classOf(seen: UrlSeen): number {
    return this.classes.number([this.#matcher.match(seen)]);
  }
}

/** The places at which a code is marked with 1. */
function placesOf(codes: Uint32Array, marked: Uint32Array): Uint32Array {
  const places = new Uint32Array(codes.length);
  let found = 0;
  for (let at = 0; at < codes.length; at++) if (marked[codes[at] as number] === 1) places[found++] = at;
  return places.subarray(0, found);
}

/** The port of each row plus one; 0 for none. */
function portsOf(table: Block['table'], rows: Uint32Array): Uint32Array {
  const shown = numbersOf(table, 'port', rows);
  const ports = new Uint32Array(rows.length);
  if (shown === undefined) return ports;
  for (let at = 0; at < ports.length; at++) {
    const port = shown[at] as number;
    ports[at] = Number.isNaN(port) ? 0 : port + 1;
  }
  return ports;
}
