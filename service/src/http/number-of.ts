import type { Thing } from '../fault/not-found.js';
import { Refusal } from '../fault/refusal.js';

/** The number in a part of a path; throws `missing` when it is not one. */
export function numberOf(text: string, thing: Thing): number {
  if (/^[0-9]{1,9}$/.test(text)) return Number(text);
  throw new Refusal(`unknown-${thing}`, `There is no ${thing} \`${text}\`.`, {
    remedy: 'They have whole numbers.',
  });
}
