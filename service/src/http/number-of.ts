import { notFound, type Thing } from '../fault/not-found.js';

/** The number in a part of a path; throws `missing` when it is not one. */
export function numberOf(text: string, thing: Thing): number {
  if (/^[0-9]{1,9}$/.test(text)) return Number(text);
  throw notFound(thing, text, [], 'They have whole numbers.');
}
