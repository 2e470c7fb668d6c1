import { closest, distance } from 'fastest-levenshtein';

const LONGEST_WORD = 64;

/** The known word that the given one was most likely meant to be, or undefined where none is near. */
export function suggest(word: string, known: readonly string[]): string | undefined {
  if (known.length === 0 || word.length > LONGEST_WORD) return undefined;
  const best = closest(word.toLowerCase(), known as string[]);
  const near = Math.max(1, Math.floor(Math.max(word.length, best.length) / 3));
  return distance(word.toLowerCase(), best.toLowerCase()) <= near ? best : undefined;
}
