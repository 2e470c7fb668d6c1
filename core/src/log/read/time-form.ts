import { instantIn } from '../../schedule/index.js';

/** A form of times, such as `DD.MM.YYYY hh:mm:ss`, ready to read by. */
export interface TimeForm {
  readonly expression: RegExp;
  /** The sign of each group of the expression. */
  readonly signs: readonly Sign[];
}

const SIGNS = {
  YYYY: '(\\d{4})',
  MMM: '([A-Za-z]{3})',
  MM: '(\\d\\d)',
  DD: '([ \\d]?\\d)',
  hh: '(\\d\\d)',
  mm: '(\\d\\d)',
  ss: '(\\d\\d)',
  fff: '(\\d{1,9})',
  ZZ: '([Zz]|[+-]\\d\\d:?\\d\\d)',
} as const;
type Sign = keyof typeof SIGNS;
const NEEDED: readonly Sign[] = ['YYYY', 'DD', 'hh', 'mm'];
const ANY_SIGN = /YYYY|MMM|MM|DD|hh|mm|ss|fff|ZZ/g;
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/**
 * Reads a form: `YYYY`, `MM` or `MMM` (Jan), `DD`, `hh`, `mm`, `ss`, `fff` (a fraction of a second) and `ZZ` (an
 * offset, or Z), with any other characters between; undefined where it is none, since it names no day or no time.
 */
export function tryTimeForm(text: string): TimeForm | undefined {
  const signs = (text.match(ANY_SIGN) ?? []) as Sign[];
  if (new Set(signs).size !== signs.length) return undefined;
  const has = (sign: Sign) => signs.includes(sign);
  if (!NEEDED.every(has) || has('MM') === has('MMM')) return undefined;
  // The characters between are taken as they are: what is left of the form holds nothing that an expression reads.
  const pieces = text.split(ANY_SIGN).map((piece) => piece.replace(/[^\w\s]/g, '\\$&'));
  const source = pieces.map((piece, at) => `${piece}${signs[at] === undefined ? '' : SIGNS[signs[at]]}`).join('');
  return { expression: new RegExp(`^${source}`), signs };
}

/** The length of the time that the text starts with; 0 where it starts with none. */
export const timeLength = (text: string, form: TimeForm | undefined): number =>
  (form?.expression ?? USUAL).exec(text)?.[0].length ?? 0;

/** Times as logs mostly have them, some with blanks in them. */
const USUAL =
  /^(?:\d{4}-\d\d-\d\d[Tt ]\d\d:\d\d:\d\d(?:[.,]\d{1,9})?(?: ?(?:[Zz]|[+-]\d\d:?\d\d))?|\d\d\/[A-Z][a-z]{2}\/\d{4}:\d\d:\d\d:\d\d [+-]\d{4})/;

/** The time in RFC 3339, of the zone where it has no offset; the text as it is where it is not of the form. */
export function readTimeForm(text: string, { expression, signs }: TimeForm, zone: string | undefined): string {
  const found = expression.exec(text);
  if (found?.[0].length !== text.length) return text;
  const part = (sign: Sign, otherwise: string) => {
    const at = signs.indexOf(sign);
    return at < 0 ? otherwise : (found[at + 1] as string).trim();
  };
  const month = signs.includes('MMM') ? MONTHS.indexOf(part('MMM', '').toLowerCase()) + 1 : Number(part('MM', '0'));
  const two = (value: string | number) => String(value).padStart(2, '0');
  const day = `${part('YYYY', '')}-${two(month)}-${two(part('DD', ''))}`;
  const clock = `${part('hh', '')}:${part('mm', '')}:${part('ss', '00')}.${part('fff', '0')}`;
  const offset = part('ZZ', '');
  if (offset !== '') return `${day}T${clock}${offset.replace(/^(...)(\d\d)$/, '$1:$2')}`;
  const local = Date.parse(`${day}T${clock}Z`);
  if (Number.isNaN(local)) return text;
  return new Date(instantIn(zone ?? 'UTC', local)).toISOString();
}
