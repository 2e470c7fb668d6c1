import { expect, it } from 'vitest';
import { Stop } from './stop.js';

const never = new Promise<never>(() => undefined);

it('passes on what is waited for, as long as nothing is stopped', async () => {
  const stop = new Stop();
  expect(await stop.wait(Promise.resolve(7))).toBe(7);
  await expect(stop.wait(Promise.reject(new Error('torn')))).rejects.toThrow('torn');
  expect(() => stop.throwIfStopped()).not.toThrow();
});

it('fails all who wait, and all who come later, with the first reason', async () => {
  const stop = new Stop();
  const waiting = [stop.wait(never), stop.wait(never)];
  stop.stop(new Error('first'));
  stop.stop(new Error('second'));
  for (const each of [...waiting, stop.wait(never)]) await expect(each).rejects.toThrow('first');
  expect(() => stop.throwIfStopped()).toThrow('first');
});
