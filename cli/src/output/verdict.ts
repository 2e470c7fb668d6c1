import type { Paint } from './terminal.js';

/** The verdict, or what a rule does, as a word in its colour; the word alone is enough. */
export function verdictWord(verdict: string, paint: Paint): string {
  switch (verdict) {
    case 'allow':
      return paint.green('allow');
    case 'block':
      return paint.red('block');
    case 'redirect':
    case 'challenge':
    case 'confirm':
    case 'unlock':
      return paint.yellow(verdict);
    default:
      return paint.dim(verdict);
  }
}
