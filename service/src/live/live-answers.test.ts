import { parseAddress } from '@jade-fence/core/address';
import {
  type Answer,
  addressesFor,
  compileAnswers,
  NO_RESOLUTIONS,
  type Resolutions,
} from '@jade-fence/core/resolution';
import { describe, expect, it } from 'vitest';
import { LiveAnswers } from './live-answers.js';

const answer = (host: string, text: string, seen = 0): Answer => ({
  ...{ host, addresses: [parseAddress(text) as Answer['addresses'][0]], seen, holds: 60 },
  from: { kind: 'dns', name: 'x' },
});
const rules = (state: number, ...answers: readonly Answer[]): Resolutions => ({
  ...{ table: compileAnswers(answers), later: new Map(), state },
});
const known = (resolutions: Resolutions, host = 'a.example') => addressesFor(resolutions, host);
const [OLD, NEW] = ['198.51.100.1', '198.51.100.2'];
const only = (text: string) => [parseAddress(text)];

describe('answers that come while requests are decided', () => {
  it('count at once, and go on counting with rules of a state before them', () => {
    const answers = new LiveAnswers();
    const first = answers.of(rules(1, answer('a.example', OLD)));
    answers.add([answer('a.example', NEW)], 2);
    expect(known(first)).toEqual(only(NEW));
    expect(known(answers.of(rules(1, answer('a.example', OLD))))).toEqual(only(NEW));
  });

  it('give way to a state that was made behind them, also where that forgets', () => {
    const answers = new LiveAnswers();
    answers.of(NO_RESOLUTIONS);
    answers.add([answer('a.example', OLD, 9), answer('b.example', OLD, 9)], 2);
    const next = answers.of(rules(3, answer('a.example', NEW, 1)));
    expect([known(next), known(next, 'b.example')]).toEqual([only(NEW), undefined]);
  });

  it('count by their loads, in whatever order they come and whenever they were seen', () => {
    const answers = new LiveAnswers();
    const resolutions = answers.of(rules(3));
    answers.add([answer('a.example', NEW, 1)], 5);
    answers.add([answer('a.example', OLD, 9)], 4);
    answers.add([answer('b.example', OLD, 9)], 3);
    expect([known(resolutions), known(resolutions, 'b.example')]).toEqual([only(NEW), undefined]);
  });

  it('that are not stored yet are the newest, until they are stored or the rules know more', () => {
    const answers = new LiveAnswers();
    const resolutions = answers.of(rules(3));
    answers.add([answer('a.example', OLD)], 4);
    answers.add([answer('a.example', NEW)], undefined);
    expect(known(resolutions)).toEqual(only(NEW));
    answers.add([answer('a.example', NEW)], 5);
    answers.add([answer('a.example', OLD)], 6);
    expect(known(resolutions)).toEqual(only(OLD));
    answers.add([answer('b.example', NEW)], undefined);
    expect(known(answers.of(rules(7)), 'b.example')).toBeUndefined();
  });

  it('take bounded memory, however many hosts somebody makes up', () => {
    const answers = new LiveAnswers(10);
    const { later } = answers.of(rules(1));
    for (let at = 0; at < 1000; at++) answers.add([answer(`h${at}.example`, OLD)], undefined);
    expect(later.size).toBeLessThanOrEqual(21);
    expect(later.has('h999.example')).toBe(true);
  });
});
