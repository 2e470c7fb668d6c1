import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { WantedHosts } from './wanted-hosts.js';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it('gives each host to one of those who take, and to each what comes while it waits', async () => {
  const wanted = new WantedHosts();
  wanted.want('a.example', 0);
  wanted.want('b.example', 0);
  expect(await wanted.take()).toEqual(['a.example', 'b.example']);
  const waiting = [wanted.take(), wanted.take()];
  wanted.want('c.example', 0);
  expect(await waiting[0]).toEqual(['c.example']);
  wanted.want('d.example', 0);
  expect(await waiting[1]).toEqual(['d.example']);
});

it('wakes one who waits after others have given up', async () => {
  const wanted = new WantedHosts();
  const gaveUp = [wanted.take(), wanted.take(), wanted.take()];
  await vi.advanceTimersByTimeAsync(20_000);
  expect(await Promise.all(gaveUp)).toEqual([[], [], []]);
  const waiting = wanted.take();
  wanted.want('a.example', 0);
  expect(await waiting).toEqual(['a.example']);
});

it('asks for a host once a minute, whatever came of it, and for no more at a time than its bound', async () => {
  const wanted = new WantedHosts();
  for (const now of [0, 59_999]) wanted.want('a.example', now);
  expect(await wanted.take()).toEqual(['a.example']);
  wanted.want('a.example', 60_000);
  expect(await wanted.take()).toEqual(['a.example']);
  for (let host = 0; host < 12_000; host++) wanted.want(`${host}.example`, 0);
  let taken = 0;
  for (
    let some = await wanted.take();
    some.length > 0;
    taken += some.length, some = taken < 10_000 ? await wanted.take() : []
  )
    expect(some.length).toBeLessThanOrEqual(100);
  expect(taken).toBe(10_000);
});
