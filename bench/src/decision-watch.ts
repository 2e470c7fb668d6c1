import { Agent, request } from 'node:http';
import { setTimeout as sleep } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';

/*
 * Asks for one decision after the other. Whenever it is asked, it tells the longest that one took, and the longest that its
 * pauses were late, which is what the machine itself makes wait, both in milliseconds; then it begins anew.
 */

const PAUSE_MS = 2;

const { url, authorization, body } = workerData as {
  readonly url: string;
  readonly authorization: string;
  readonly body: string;
};
const agent = new Agent({ keepAlive: true });
const headers = { authorization, 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) };
let [longest, latest] = [0, 0];

parentPort?.on('message', () => {
  parentPort?.postMessage([longest, latest]);
  [longest, latest] = [0, 0];
});

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

for (;;) {
  const started = performance.now();
  await decide();
  const answered = performance.now();
  longest = Math.max(longest, answered - started);
  await sleep(PAUSE_MS);
  latest = Math.max(latest, performance.now() - answered - PAUSE_MS);
}
