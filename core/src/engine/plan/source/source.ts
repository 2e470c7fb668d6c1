import type { ClientFinding, Request } from '../../../request/index.js';
import type { Axis } from '../axis.js';
import type { ClassColumn } from '../class-column.js';
import { ClassTable, type Matched } from '../classes.js';
import type { Block } from './block.js';

/**
 * What of a request one or more axes are tested on. Numbers the classes of its values, and remembers them; so it has
 * state, and belongs to one run.
 */
export interface Source {
  readonly classes: ClassTable;
  /** The class of a request by itself. */
  one(request: Request, client: ClientFinding): number;
  /** The columns of chunks that its classes depend on, and nothing else; undefined when unknown. */
  readonly columns: readonly string[] | undefined;
  /** The class of each row of a block. The result may alias `room`, which holds at least that many ids. */
  rows(block: Block, room: Uint32Array): ClassColumn;
}

/** How a source is made: once for a plan; each run makes a source of its own from it. */
export interface SourcePlan {
  readonly axes: readonly Axis[];
  readonly start: (words: number) => Source;
}

export const UNSEEN: Matched = undefined;

/** A source without state would be this: the classes of what is unseen on every axis. */
export const unseenClass = (classes: ClassTable): number => classes.number(classes.axes.map(() => UNSEEN));
