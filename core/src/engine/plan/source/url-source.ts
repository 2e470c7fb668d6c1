import { portOf, type Request } from '../../../request/index.js';
import type { UrlSeen } from '../../../url/index.js';
import type { Axis } from '../axis.js';
import { ClassTable } from '../classes.js';
import type { UrlMatcher } from '../match/urls.js';
import { type Block, type Combinations, combine, numberColumn } from './block.js';
import { ClassMemo } from './memo.js';
import type { Source, SourcePlan } from './source.js';

export const urlSource = (axis: Axis, matcher: UrlMatcher): SourcePlan => ({
  axes: [axis],
  start: (words) => new UrlSource(axis, matcher, words),
});

const PARTS = ['host', 'path', 'query', 'scheme'];
const BETWEEN = '\u0000';

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
    const places = Uint32Array.from(rows.keys()).filter((at) => concerned[hosts.codes[at] as number]);
    if (places.length > 0) this.#looked(table, rows, places, into);
  }

  /** The rows at the places, by all that their URLs show. */
  #looked(table: Block['table'], rows: Uint32Array, places: Uint32Array, into: Int32Array): void {
    const seen: Combinations = combine(
      table,
      PARTS,
      places.map((at) => rows[at] as number),
    );
    const ports = numberColumn(table, 'port');
    places.forEach((at, index) => {
      const [host, path, query, scheme] = seen.texts[seen.codes[index] as number] as (string | undefined)[];
      const told = ports?.[rows[at] as number];
      const port = portOf({ port: told === undefined || Number.isNaN(told) ? undefined : told, scheme });
      const key = [host, path, query, scheme, port].map((part) => part ?? '\u0001').join(BETWEEN);
      into[at] = this.#memo.get(key, () => this.#classOf({ host, path, query, scheme, port }));
    });
  }

  #classOf(seen: UrlSeen): number {
    return this.classes.number([this.#matcher.match(seen)]);
  }
}
