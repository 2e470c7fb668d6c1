import { expect, it } from 'vitest';
import { BoundedMap } from './bounded-map.js';

it('empties itself before a new key that it has no room for, and not for one that it has', () => {
  const map = new BoundedMap<string, number>(2);
  map.set('a', 1).set('b', 2).set('b', 3);
  expect([...map]).toEqual([
    ['a', 1],
    ['b', 3],
  ]);
  map.set('c', 4);
  expect([...map]).toEqual([['c', 4]]);
});

it('makes a value once, as long as it is kept', () => {
  const map = new BoundedMap<string, number>(1);
  let made = 0;
  const of = (key: string) => map.of(key, () => ++made);
  expect([of('a'), of('a'), of('__proto__'), of('a')]).toEqual([1, 1, 2, 3]);
});

it('keeps nothing where making fails', () => {
  const map = new BoundedMap<string, number>(1);
  const fails = () => {
    throw new Error('no');
  };
  expect(() => map.of('a', fails)).toThrow('no');
  expect(map.size).toBe(0);
});
