import { randomBytes } from 'node:crypto';

/** Without letters that are taken for others, since people read them out. */
const LETTERS = '23456789ABCDEFGHJKMNPQRSTVWXYZ';
const LENGTH = 8;

/** What a stopped client is told, so that whoever is asked finds the decision. It says nothing by itself. */
export function newReference(): string {
  return Array.from(randomBytes(LENGTH), (byte) => LETTERS[byte % LETTERS.length]).join('');
}
