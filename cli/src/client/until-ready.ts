import { setTimeout as sleep } from 'node:timers/promises';
import type { Failure } from '../failure.js';
import type { Client } from './client.js';

const WAIT_MS = 60_000;
const LOOK_EVERY_MS = 500;

/** Waits up to a minute until the service is ready; fails with what is given where it is not by then. */
export async function untilReady(client: Client, failure: Failure): Promise<void> {
  for (const end = Date.now() + WAIT_MS; Date.now() < end; await sleep(LOOK_EVERY_MS))
    if (await client.isReady()) return;
  throw failure;
}
