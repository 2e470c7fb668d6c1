import { NOT_KNOWN_BY_ID, NumbersById, type TextColumn, type TextIds, textReader } from '../../../column/index.js';
import type { Request } from '../../../request/index.js';
import type { Axis } from '../axis.js';
import type { ClassColumn } from '../class-column.js';
import { ClassTable, type Matched } from '../classes.js';
import type { Block } from './block.js';
import { textColumn } from './columns.js';
import { combine } from './combinations.js';
import { ClassMemo } from './memo.js';
import type { Source, SourcePlan } from './source.js';

/** A source whose value is in one or more text columns of a chunk. */
export interface TextSourcePlan {
  readonly axes: readonly Axis[];
  readonly columns: readonly string[];
  /** Whether requests say the same few values again and again, so that all of these are worth remembering. */
  readonly fewValues?: boolean;
  /** The texts of those columns in a request. */
  readonly texts: (request: Request) => readonly (string | undefined)[];
  /** The terms that the texts match, axis by axis. */
  readonly match: (texts: readonly (string | undefined)[]) => readonly Matched[];
}

/** A source of bit vectors over the dictionary of a text column. */
export const textSource = (plan: TextSourcePlan): SourcePlan => ({
  axes: plan.axes,
  start: (words) => new TextSource(plan, words),
});

const SOME = 20_000;

class TextSource implements Source {
  readonly classes: ClassTable;
  readonly #plan: TextSourcePlan;
  readonly #memo = new ClassMemo();
  /** Anybody can make up values, so only the most used are kept. */
  readonly #some = new ClassMemo(SOME);
  /** Of texts of the first column, when the others are empty. */
  readonly #byId = new NumbersById();
  readonly #others: readonly undefined[];

  constructor(plan: TextSourcePlan, words: number) {
    this.classes = new ClassTable(plan.axes, words);
    this.#plan = plan;
    this.#others = plan.columns.slice(1).map(() => undefined);
  }

  one(request: Request): number {
    const texts = this.#plan.texts(request);
    return this.#classOf(texts, this.#plan.fewValues ? this.#memo : this.#some);
  }

  get columns(): readonly string[] {
    return this.#plan.columns;
  }

  rows({ table, rows, texts }: Block, room: Uint32Array): ClassColumn {
    const [name, ...others] = this.#plan.columns as [string, ...string[]];
    if (others.some((other) => table.columns.has(other))) return this.#columns(table, rows);
    const column = textColumn(table, name);
    const ids = texts.ids(name);
    if (column && ids) return this.#column(column, ids, rows, room);
    return { codes: room.fill(this.#classOf([undefined, ...this.#others]), 0, rows.length) };
  }

  /** The first column alone: the codes of its dictionary are all there is. */
  #column(column: TextColumn, texts: TextIds, rows: Uint32Array, room: Uint32Array): ClassColumn {
    const { codes } = column;
    const { ids } = texts;
    const known = this.#byId.of(texts);
    const textOf = textReader(column);
    const make = (code: number): number => {
      const made = this.classes.number(this.#plan.match([textOf(code), ...this.#others]));
      known[ids[code] as number] = made;
      return made;
    };
    // Where the rows are all that there are, so are the texts, and no row need be looked at.
    if (rows.length === codes.length) {
      const classes = new Int32Array(ids.length);
      for (let code = 0; code < ids.length; code++) {
        const number = known[ids[code] as number] as number;
        classes[code] = number === NOT_KNOWN_BY_ID ? make(code) : number;
      }
      return { codes, classes };
    }
    for (let at = 0; at < rows.length; at++) {
      const code = codes[rows[at] as number] as number;
      const number = known[ids[code] as number] as number;
      room[at] = number === NOT_KNOWN_BY_ID ? make(code) : number;
    }
    return { codes: room };
  }

  #columns(table: Block['table'], rows: Uint32Array): ClassColumn {
    const combinations = combine(table, this.#plan.columns, rows);
    const classes = new Int32Array(combinations.count);
    for (let code = 0; code < classes.length; code++) classes[code] = this.#classOf(combinations.texts(code));
    return { codes: combinations.codes, classes };
  }

  #classOf(texts: readonly (string | undefined)[], memo = this.#memo): number {
    return memo.get(texts, () => this.classes.number(this.#plan.match(texts)));
  }
}
