import { afterEach, beforeEach, expect, it } from 'vitest';
import { threadLane } from './lane.js';
import { Thread, ThreadLost } from './thread.js';

/** Answers with what it is given; ends at 13, and fails at 7. */
const SCRIPT = `
import { parentPort } from 'node:worker_threads';
parentPort.on('message', ({ id, args }) => {
  const [given] = args;
  if (given === 13) process.exit(1);
  if (given === 7) parentPort.postMessage({ id, error: { message: 'seven', stack: 'here' } });
  else parentPort.postMessage({ id, result: given });
});`;

let thread: Thread;
beforeEach(() => {
  thread = new Thread(threadLane(new URL(`data:text/javascript,${encodeURIComponent(SCRIPT)}`)));
});
afterEach(() => thread.stop());

const ask = (given: number) => thread.call('closeReader', [given]) as unknown as Promise<number>;

it('answers calls, in whatever number they come', async () => {
  expect(await Promise.all([1, 2, 3].map(ask))).toEqual([1, 2, 3]);
  expect(thread.busy).toBe(0);
});

it('hands on what fails, and goes on', async () => {
  await expect(ask(7)).rejects.toThrow('seven');
  expect(await ask(8)).toBe(8);
});

it('fails all who wait when it is lost, and starts anew for the next', async () => {
  const answers = await Promise.allSettled([ask(13), ask(1), ask(2)]);
  for (const answer of answers) expect(answer.status === 'rejected' && answer.reason).toBeInstanceOf(ThreadLost);
  expect(await ask(4)).toBe(4);
});

it('is not started any more for who comes when it was stopped', async () => {
  expect(await ask(1)).toBe(1);
  await thread.stop();
  await expect(ask(2)).rejects.toThrow('was stopped');
  expect(thread.busy).toBe(0);
});
