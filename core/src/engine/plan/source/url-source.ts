import { portOf, type Request } from '../../../request/index.js';
import type { UrlSeen } from '../../../url/index.js';
import type { Axis } from '../axis.js';
import { ClassTable } from '../classes.js';
import type { UrlMatcher } from '../match/urls.js';
import { type Block, type Combinations, combine, numberColumn, pairs } from './block.js';
import { ClassMemo } from './memo.js';
import type { Source, SourcePlan } from './source.js';

export const urlSource = (axis: Axis, matcher: UrlMatcher): SourcePlan => ({
  axes: [axis],
  start: (words) => new UrlSource(axis, matcher, words),
});

const PARTS = ['host', 'path', 'query', 'scheme'];
const BETWEEN = '\u0000';
/** Ports by number, and 0 for none. */
const PORTS = 65_537;

/** Whole URLs. Most hosts are in no pattern, and then nothing else of the URL is looked at. */
class UrlSource implements Source {
  readonly classes: ClassTable;
  readonly #matcher: UrlMatcher;
  readonly #memo = new ClassMemo();

  constructor(axis: Axis, matcher: UrlMatcher, words: number) {
    this.classes = new ClassTable([axis], words);
    this.#matcher = matcher;
  }

  one(request: Request): number {
    return this.#classOf({ ...request, port: portOf(request) });
  }

  rows({ table, rows }: Block, into: Int32Array): void {
    const hosts = combine(table, ['host'], rows);
    const nowhere = this.classes.number([{ matched: [] }]);
    const concerned = hosts.texts.map(([host]) => this.#matcher.concerns(host));
    into.fill(nowhere, 0, rows.length);
    const places = new Uint32Array(rows.length);
    let count = 0;
    for (let at = 0; at < rows.length; at++) if (concerned[hosts.codes[at] as number]) places[count++] = at;
    if (count > 0) this.#looked(table, rows, places.subarray(0, count), into);
  }

  /** The rows at the places, by all that their URLs show. */
  #looked(table: Block['table'], rows: Uint32Array, places: Uint32Array, into: Int32Array): void {
    const seen: Combinations = combine(
      table,
      PARTS,
      places.map((at) => rows[at] as number),
    );
    const ports = numberColumn(table, 'port');
    const portAt = Int32Array.from(places, (at) => {
      const told = ports?.[rows[at] as number];
      return told === undefined || Number.isNaN(told) ? 0 : told + 1;
    });
    // Each combination is looked at once.
    const { codes, first } = pairs(seen.codes, seen.texts.length, portAt, PORTS);
    const classes = first.map((index) => {
      const [host, path, query, scheme] = seen.texts[seen.codes[index] as number] as (string | undefined)[];
      const port = portOf({ port: portAt[index] === 0 ? undefined : (portAt[index] as number) - 1, scheme });
      const key = [host, path, query, scheme, port].map((part) => part ?? '\u0001').join(BETWEEN);
      return this.#memo.get(key, () => this.#classOf({ host, path, query, scheme, port }));
    });
    for (let index = 0; index < places.length; index++)
      into[places[index] as number] = classes[codes[index] as number] as number;
  }

  #classOf(seen: UrlSeen): number {
    return this.classes.number([this.#matcher.match(seen)]);
  }
}
