import { ADDRESS_FIELDS, NUMBER_FIELDS, VALUE_FIELDS } from '../../request/index.js';

/**
 * The fields that lines are scanned for, by number. Texts and addresses come as runs of bytes, numbers as numbers. They
 * are in the order in which a chunk takes them.
 */
export const FIELDS = [...VALUE_FIELDS, 'forwarded', 'forwarded-for'] as const;
export type ScannedField = (typeof FIELDS)[number];

/** The number of a field among those that the scanners find. */
export const fieldNumber = (name: ScannedField): number => FIELDS.indexOf(name);

export const NUMBER_COUNT = NUMBER_FIELDS.length;
export const FIRST_TEXT = NUMBER_COUNT + ADDRESS_FIELDS.length;
export const TIME = fieldNumber('time');

/**
 * The fields of one line, as a scanner found them. Made once and filled line by line: a field whose bit is set in `seen`
 * has a number in `numbers`, or a run of bytes in `starts` and `ends`.
 */
export class LineFields {
  seen = 0;
  /** The fields of which the line says that there is known to be none. */
  none = 0;
  readonly numbers = new Float64Array(FIELDS.length);
  readonly starts = new Int32Array(FIELDS.length);
  readonly ends = new Int32Array(FIELDS.length);
}
