import type { ColumnTable } from '../../column/index.js';
import type { FieldFault, LineFault } from '../line.js';
import { countIgnored } from '../read/request-fields.js';

/** A line that could not be read, and why; its text is cut short. */
export interface Rejected {
  readonly line: number;
  readonly fault: LineFault;
  readonly text: string;
}

/** The result of reading a part of a log. */
export interface ReadPart {
  /** The requests, as chunks. */
  readonly tables: readonly ColumnTable[];
  readonly rejected: readonly Rejected[];
  /** The names of fields that are not a request's, with how often they came. */
  readonly ignored: ReadonlyMap<string, number>;
  /** Values that could not be read, and left their fields unseen: how many, by `field code`. */
  readonly unreadable: ReadonlyMap<string, number>;
  /** How many header values found no room in their chunk. */
  readonly droppedHeaders: number;
}

/** So much of a line that could not be read is kept. */
export const LONGEST_REJECTED_TEXT = 2000;

/** Counts the fields of a line that could not be read. */
export function countUnreadable(unreadable: Map<string, number>, faults: readonly FieldFault[] = []): void {
  for (const { field, code } of faults) countIgnored(unreadable, `${field} ${code}`);
}
