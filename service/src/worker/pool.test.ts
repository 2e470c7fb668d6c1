import { afterAll, expect, it } from 'vitest';
import { threadLane } from './lane.js';
import { WorkerPool } from './pool.js';
import { Thread, ThreadLost } from './thread.js';

/** Ends the thread the given number of times, then answers. */
const SCRIPT = `
import { parentPort } from 'node:worker_threads';
parentPort.on('message', ({ id, args }) => {
  const [ends] = args;
  if (Atomics.sub(ends, 0, 1) > 0) process.exit(1);
  parentPort.postMessage({ id, result: 'answered' });
});`;
const script = new URL(`data:text/javascript,${encodeURIComponent(SCRIPT)}`);

const pool = new WorkerPool(2, () => new Thread(threadLane(script)));
afterAll(() => pool.stop());

const ask = (ends: number) => {
  const shared = new Int32Array(new SharedArrayBuffer(Int32Array.BYTES_PER_ELEMENT));
  shared[0] = ends;
  return pool.ask('closeReader', [shared as unknown as number]) as unknown as Promise<string>;
};

it('asks another worker where one is lost', async () => {
  expect(await Promise.all([ask(0), ask(1), ask(2)])).toEqual(['answered', 'answered', 'answered']);
});

it('gives up on what workers are lost by each time', async () => {
  await expect(ask(3)).rejects.toBeInstanceOf(ThreadLost);
  expect(await ask(0)).toBe('answered');
});
