/** Something in a file of resolutions that was left out, and why. `detail` is the faulty text. */
export interface ResolutionFault {
  readonly line: number;
  readonly code: ResolutionFaultCode;
  readonly detail: string;
}

export type ResolutionFaultCode =
  | 'columns'
  | 'host'
  | 'literal'
  | 'address'
  | 'time'
  | 'holds'
  | 'too-long'
  | 'too-many-addresses'
  | 'too-many'
  | 'record'
  | 'unclosed'
  | 'directive'
  | 'no-origin'
  | 'wildcard'
  | 'loop'
  | 'outside';

const WORDING: Record<ResolutionFaultCode, (detail: string) => string> = {
  columns: (detail) => `Expected a host and an address, got: ${detail}`,
  host: (detail) => `This is not a host name: ${detail}`,
  literal: (detail) => `An address needs no resolution: ${detail}`,
  address: (detail) => `This is not an IP address: ${detail}`,
  time: (detail) => `This is not a time of RFC 3339: ${detail}`,
  holds: (detail) => `This is not a number of seconds up to 2147483647: ${detail}`,
  'too-long': (detail) => `The line is longer than 4,000 characters: ${detail}`,
  'too-many-addresses': (detail) => `The host has more than 256 addresses; this one is left out: ${detail}`,
  'too-many': (detail) => `The aliases of the file have more than 4,000,000 addresses together: ${detail}`,
  record: (detail) => `This is not a record of a zone file: ${detail}`,
  unclosed: (detail) => `A parenthesis or a quote is not closed: ${detail}`,
  directive: (detail) => `This directive is not read; write the records themselves: ${detail}`,
  'no-origin': (detail) => `The name is relative, and the file has no $ORIGIN; name the origin of the zone: ${detail}`,
  wildcard: (detail) => `A wildcard names no host, so it is left out: ${detail}`,
  loop: (detail) => `The alias leads back to itself, or over more than 16 others: ${detail}`,
  outside: (detail) => `The alias leads to a name that the file has no address of: ${detail}`,
};

/** Why something was left out, as half a sentence without its full stop. */
export const resolutionFaultText = ({ code, detail }: ResolutionFault): string => WORDING[code](detail);

const SHOWN = 80;

/** A fault with as much of the text as fits into a line. */
export const faultOf = (line: number, code: ResolutionFaultCode, text: string): ResolutionFault => ({
  line,
  code,
  detail: text.length > SHOWN ? `${text.slice(0, SHOWN)}…` : text,
});
