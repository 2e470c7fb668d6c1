import type { Paint } from './terminal.js';

/** The verdict as a word in its colour; the word alone tells it. */
export function verdictWord(verdict: string, paint: Paint): string {
  switch (verdict) {
    case 'allow':
      return paint.green('allow');
    case 'block':
      return paint.red('block');
    default:
      return paint.dim(verdict);
  }
}
