import { readFileSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { setTimeout as sleep } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';

/*
 * Asks for one decision after the other. On each message it answers three durations in milliseconds, and starts over:
 * the longest decision, the longest delay of its own timer, which the machine causes, and the most that the main thread
 * of the deciding process ran between two answers, which is the part of a delay that our own work causes.
 */

const PAUSE_MS = 2;

const { url, pid, authorization, body } = workerData as {
  readonly url: string;
  /** Of the process that decides. */
  readonly pid: number;
  readonly authorization: string;
  readonly body: string;
};
const agent = new Agent({ keepAlive: true });
const headers = { authorization, 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) };
let [longest, latest, busiest] = [0, 0, 0];

parentPort?.on('message', () => {
  parentPort?.postMessage([longest, latest, busiest]);
  [longest, latest, busiest] = [0, 0, 0];
});

/** How long the main thread of the deciding process has run, in milliseconds, by the kernel's count. */
const ranFor = (): number => Number(readFileSync(`/proc/${pid}/task/${pid}/schedstat`, 'utf8').split(' ')[0]) / 1e6;

function decide(): Promise<void> {
  return new Promise((resolve, reject) => {
    const call = request(`${url}/decide`, { method: 'POST', agent, headers }, (response) => {
      if (response.statusCode !== 200) reject(new Error(`a decision was refused with ${response.statusCode}`));
      response.resume().on('end', resolve);
    });
    call.on('error', reject);
    call.end(body);
  });
}

for (let ran = ranFor(); ; ) {
  const started = performance.now();
  await decide();
  const answered = performance.now();
  longest = Math.max(longest, answered - started);
  const now = ranFor();
  [busiest, ran] = [Math.max(busiest, now - ran), now];
  await sleep(PAUSE_MS);
  latest = Math.max(latest, performance.now() - answered - PAUSE_MS);
}
