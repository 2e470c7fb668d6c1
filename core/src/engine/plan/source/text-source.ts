import type { Request } from '../../../request/index.js';
import type { Subject } from '../../subject.js';
import type { Axis } from '../axis.js';
import { ClassTable, type Matched } from '../classes.js';
import { type Block, combine } from './block.js';
import { ClassMemo } from './memo.js';
import type { Source, SourcePlan } from './source.js';

/** A source whose value is told by one or more text columns of a chunk. */
export interface TextSourcePlan {
  readonly axes: readonly Axis[];
  readonly columns: readonly string[];
  /** The texts of those columns in a request. */
  readonly texts: (request: Request) => readonly (string | undefined)[];
  /** What the texts do to each axis. */
  readonly match: (texts: readonly (string | undefined)[]) => readonly Matched[];
}

export const textSource = (plan: TextSourcePlan): SourcePlan => ({
  axes: plan.axes,
  start: (words) => new TextSource(plan, words),
});

const BETWEEN = '\u0000';
const ABSENT = '\u0001';

class TextSource implements Source {
  readonly classes: ClassTable;
  readonly #plan: TextSourcePlan;
  readonly #memo = new ClassMemo();

  constructor(plan: TextSourcePlan, words: number) {
    this.classes = new ClassTable(plan.axes, words);
    this.#plan = plan;
  }

  one({ request }: Subject): number {
    return this.classes.number(this.#plan.match(this.#plan.texts(request)));
  }

  rows({ table, rows }: Block, into: Int32Array): void {
    const { codes, texts } = combine(table, this.#plan.columns, rows);
    const classes = Int32Array.from(texts, (each) => this.#classOf(each));
    for (let at = 0; at < rows.length; at++) into[at] = classes[codes[at] as number] as number;
  }

  #classOf(texts: readonly (string | undefined)[]): number {
    const key = texts.length === 1 ? (texts[0] ?? ABSENT) : texts.map((text) => text ?? ABSENT).join(BETWEEN);
    return this.#memo.get(key, () => this.classes.number(this.#plan.match(texts)));
  }
}
