import { expect, it } from 'vitest';
import { wrapLines } from './wrap.js';

it.each([
  ['short lines stay', 'A rule.', 'A rule.'],
  [
    'a sentence is broken at a blank',
    'The requests that come from there are stopped by a rule above.',
    'The requests that come from there are\nstopped by a rule above.',
  ],
  [
    'what follows hangs under the text, not under its mark',
    '  → move it above `web-for-all`, so that it is asked first of all',
    '  → move it above `web-for-all`, so that\n    it is asked first of all',
  ],
  [
    'of a row in columns the last is broken, under itself',
    '  flood  Block requests after more than 5 of them',
    '  flood  Block requests after more than\n         5 of them',
  ],
  [
    'a row whose last column has no room stays',
    'visitor-web  14  block  enforce  what they reach',
    'visitor-web  14  block  enforce  what they reach',
  ],
  [
    'letters that take two columns are counted so',
    '温室の名前 温室の名前 温室の名前 温室の名前 温室',
    '温室の名前 温室の名前 温室の名前\n温室の名前 温室',
  ],
  ['a word that is too long stays whole', `x ${'y'.repeat(60)}`, `x\n${'y'.repeat(60)}`],
])('%s', (_, text, wrapped) => {
  expect(wrapLines(text, 40)).toBe(wrapped);
});

it('keeps colours, and leaves very narrow terminals alone', () => {
  const red = '\u001b[31m';
  const plain = '\u001b[39m';
  expect(wrapLines(`${red}! ${plain}one two three four five six seven eight nine`, 40)).toBe(
    `${red}! ${plain}one two three four five six seven\n  eight nine`,
  );
  expect(wrapLines('one two three four five', 10)).toBe('one two three four five');
});
