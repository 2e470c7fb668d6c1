import type { Request } from '../request/index.js';

/** The result of reading one line: a request, with the fields that could not be read; or the fault. */
export type LineResult =
  | { readonly request: Request; readonly faults?: readonly FieldFault[] }
  | { readonly fault: LineFault };

/** A field of a line whose value cannot be read, and is unseen for that. */
export interface FieldFault extends LineFault {
  /** In our short names; `header.NAME` for a header. */
  readonly field: string;
}

/** Why a line of a log cannot be read. `detail` is the faulty part, cut short. */
export interface LineFault {
  readonly code: LineFaultCode;
  readonly detail: string;
}

export type LineFaultCode =
  | 'not-json'
  | 'not-an-object'
  | 'not-a-log-line'
  | 'not-as-pattern'
  | 'wrong-type'
  | 'bad-time'
  | 'bad-peer'
  | 'bad-destination'
  | 'bad-host'
  | 'bad-number'
  | 'bad-url'
  | 'nothing-known'
  | 'no-field'
  | 'too-long'
  | 'open-quote'
  | 'too-many-columns'
  | 'wrong-columns'
  | 'no-columns-yet'
  | 'no-such-column'
  | 'no-such-place'
  | 'not-har'
  | 'cut-off';

/** The one table of messages for lines of logs. */
const WORDING: Record<LineFaultCode, (detail: string) => string> = {
  'not-json': (detail) => `This is not JSON: ${detail}`,
  'not-an-object': (detail) => `A line holds one JSON object, and this is ${detail}`,
  'not-a-log-line': (detail) => `This is not a line of the combined log format: ${detail}`,
  'not-as-pattern': (detail) => `The line is not as the pattern says, from here on: ${detail}`,
  'wrong-type': (detail) => `A field has a value of the wrong type: ${detail}`,
  'bad-time': (detail) => `This is not a time: ${detail}`,
  'bad-peer': (detail) => `The peer is not an IP address: ${detail}`,
  'bad-destination': (detail) => `The destination is not an IP address: ${detail}`,
  'bad-host': (detail) => `This is not a host: ${detail}`,
  'bad-number': (detail) => `This is not a number in its range: ${detail}`,
  'bad-url': (detail) => `This is not an absolute URL: ${detail}`,
  'nothing-known': (detail) => `None of the fields is one that requests have: ${detail}`,
  'no-field': (detail) => `None of the fields has a value: ${detail}`,
  'too-long': (detail) => `The line is longer than ${detail}`,
  'open-quote': (detail) => `A quote is opened and never closed: ${detail}`,
  'too-many-columns': (detail) => `The row has ${detail} columns, more than the header names`,
  'wrong-columns': (detail) => `The line has another number of fields: ${detail}`,
  'no-columns-yet': (detail) => `No #Fields line above says what the fields are: ${detail}`,
  'no-such-column': (detail) => `The mapping names columns that the header does not have: ${detail}`,
  'no-such-place': (detail) => `No line has anything at the place that the mapping names: ${detail}`,
  'not-har': (detail) => `This is not an HTTP archive: ${detail}`,
  'cut-off': (detail) => `The file ends in the middle: ${detail}`,
};

/** The message of a fault of a line or a value, without its full stop. */
export const lineFaultText = (fault: LineFault): string => WORDING[fault.code](fault.detail);

const LONGEST_DETAIL = 80;

/** The result of reading a line that cannot be read. Details are cut, since strangers wrote them. */
export function lineFault(code: LineFaultCode, detail: string): { readonly fault: LineFault } {
  return { fault: { code, detail: detail.length > LONGEST_DETAIL ? `${detail.slice(0, LONGEST_DETAIL)}…` : detail } };
}
