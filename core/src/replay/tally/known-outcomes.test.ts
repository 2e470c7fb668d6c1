import { expect, it } from 'vitest';
import type { Outcome } from '../../engine/index.js';
import { KnownOutcomes } from './known-outcomes.js';

const outcome = (decidedBy: number) => ({ decidedBy }) as Outcome;

it('numbers outcomes when they are first counted, whichever judge reported them first', () => {
  const known = new KnownOutcomes();
  const numbers = new Map<number, number>();
  const adopt = ({ decidedBy }: Outcome) => {
    const number = numbers.get(decidedBy) ?? numbers.size;
    numbers.set(decidedBy, number);
    return number;
  };
  known.learn(1, { from: 0, outcomes: [outcome(7), outcome(8)] });
  known.learn(0, { from: 0, outcomes: [outcome(8)] });
  known.learn(0, { from: 1, outcomes: [outcome(9), outcome(7)] });
  expect([0, 2].map((number) => known.number(0, number, adopt))).toEqual([0, 1]);
  expect([0, 1].map((number) => known.number(1, number, adopt))).toEqual([1, 0]);
  expect([0, 1, 2].map((number) => known.number(0, number, adopt))).toEqual([0, 2, 1]);
});

it('counts nothing that was not reported, and takes no report with a gap', () => {
  const known = new KnownOutcomes();
  known.learn(0, { from: 0, outcomes: [outcome(7)] });
  expect(() => known.number(0, 1, () => 0)).toThrow('judge 0 counts outcome 1, which it has not reported');
  expect(() => known.learn(0, { from: 2, outcomes: [] })).toThrow('judge 0 reports outcome 2 where 1 is next');
  expect(() => known.learn(1, { from: 1, outcomes: [] })).toThrow('judge 1 reports outcome 1 where 0 is next');
});
