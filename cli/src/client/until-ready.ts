import { setTimeout as sleep } from 'node:timers/promises';
import { PROBLEMS } from '@jade-fence/contract';
import { Failure } from '../failure.js';
import type { Client } from './client.js';

const WAIT_MS = 60_000;
const LOOK_EVERY_MS = 500;
/** Nothing answers, or something that is in between, such as a proxy. */
const NO_ANSWER: readonly string[] = ['service-unreachable', 'not-our-service'];

/** Whether a call failed since the service, or what it needs, is away; and not because of what it was sent, such as a key. */
export const isAway = (error: unknown): error is Failure =>
  error instanceof Failure &&
  (NO_ANSWER.includes(error.body.code) || (PROBLEMS as Readonly<Record<string, string>>)[error.body.code] === 'away');

/** Waits up to a minute until the service is ready; fails with what is given where it is not by then. */
export async function untilReady(client: Client, failure: Failure): Promise<void> {
  for (const end = Date.now() + WAIT_MS; Date.now() < end; await sleep(LOOK_EVERY_MS))
    if (await client.isReady()) return;
  throw failure;
}
