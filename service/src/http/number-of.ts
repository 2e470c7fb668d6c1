import type { Thing } from '../fault/not-found.js';
import { Refusal } from '../fault/refusal.js';

/** The number that a part of a path tells; there is no such thing where it tells none. */
export function numberOf(text: string, thing: Thing): number {
  if (/^[0-9]{1,9}$/.test(text)) return Number(text);
  throw new Refusal(`unknown-${thing}`, `There is no ${thing} \`${text}\`.`, {
    remedy: 'They have whole numbers.',
  });
}
