import type { LinePattern } from '../read/pattern.js';
import { REQUEST_LINE } from '../read/request-line.js';
import { FIELDS, fieldNumber, type ScannedField } from './line-fields.js';

/** What a field of a pattern is to the scanners: the number of one, or one of these. */
export const SKIPPED = -1;
export const CALLED = -2;

/** A part of a pattern to the scanners: its text, or a field up to the next text. */
export interface Step {
  readonly text: Uint8Array | undefined;
  readonly field: number;
  readonly quoted: boolean;
}

/**
 * The steps of a pattern; undefined where it has what only whole lines are read for. Times without an offset are scanned
 * in UTC.
 */
export function stepsOf({ parts }: LinePattern, zone: string | undefined): Step[] | undefined {
  if (zone !== undefined && zone !== 'UTC') return undefined;
  const steps: Step[] = [];
  for (const part of parts) {
    if (part.type === 'text') {
      const text = part.words.join(' ');
      // Characters that are no ASCII are left in lines, so that no such text would be found.
      if (text === '' || /[^\x20-\x7e]|\\/.test(text)) return undefined;
      steps.push({ text: new TextEncoder().encode(text), field: SKIPPED, quoted: false });
      continue;
    }
    if (part.form !== undefined) return undefined;
    const known = (FIELDS as readonly string[]).indexOf(part.field);
    const field = part.field === REQUEST_LINE ? CALLED : part.field === '-' ? SKIPPED : known;
    if (part.field !== '-' && field === SKIPPED) return undefined;
    steps.push({ text: undefined, field, quoted: part.quoted });
  }
  // A request line beside its parts would be taken twice.
  return has(steps, CALLED) && PARTS.some((name) => has(steps, fieldNumber(name))) ? undefined : steps;
}

const PARTS: readonly ScannedField[] = ['method', 'path', 'protocol'];

const has = (steps: readonly Step[], wanted: number): boolean =>
  steps.some(({ text, field }) => text === undefined && field === wanted);

/** Whether request lines of tunnels are taken: their target comes before the host and the port of other fields. */
export function takesTunnels(steps: readonly Step[]): boolean {
  const called = steps.findIndex(({ field }) => field === CALLED);
  const [host, port] = [fieldNumber('host'), fieldNumber('port')];
  return called >= 0 && !steps.some(({ field }, at) => field === port || (field === host && at > called));
}
