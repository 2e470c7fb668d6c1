import { Refusal } from '../fault/refusal.js';

/** The number that a part of a path tells; there is no such thing where it tells none. */
export function numberOf(text: string, what: string): number {
  if (/^[0-9]{1,9}$/.test(text)) return Number(text);
  throw new Refusal('missing', `unknown-${what}`, `There is no ${what} \`${text}\`.`, {
    remedy: 'They have whole numbers.',
  });
}
