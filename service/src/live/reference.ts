import { randomBytes } from 'node:crypto';

/** Without letters that are taken for others, since people read them out. */
const LETTERS = '23456789ABCDEFGHJKMNPQRSTVWXYZ';
const LENGTH = 8;

/** The reference that a stopped client is shown, so that support can find the decision. It reveals nothing by itself. */
export function newReference(): string {
  return Array.from(randomBytes(LENGTH), (byte) => LETTERS[byte % LETTERS.length]).join('');
}
