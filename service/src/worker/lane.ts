import { fork } from 'node:child_process';
import { Worker } from 'node:worker_threads';
import type { Call, Reply } from './answer-calls.js';

/** Where calls go to be answered: a thread, or a process of its own. */
export interface Lane {
  send(call: Call): void;
  /** Ends it, whatever it does. */
  end(): Promise<void>;
}

/** Callbacks of a lane: for each answer, and for its end. */
export interface LaneEnds {
  readonly answered: (reply: Reply) => void;
  readonly ended: (reason: string) => void;
}

/** Starts what answers calls. It calls `ended` once, whoever ends it. */
export type StartLane = (ends: LaneEnds) => Lane;

/** Starts a script as a worker thread. */
export const threadLane =
  (script: URL): StartLane =>
  ({ answered, ended }) => {
    const worker = new Worker(script);
    let reason = 'it ended';
    worker.on('message', answered);
    worker.on('error', (error) => {
      reason = error.message;
    });
    worker.on('exit', () => ended(reason));
    return {
      // Nothing is moved: once one buffer of a thread was, all that its code does with any is looked at twice.
      send: (call) => worker.postMessage(call),
      end: async () => void (await worker.terminate()),
    };
  };

/** Has glibc give large pieces of memory back as soon as they are free; other systems do not look at it. */
const GIVES_BACK = { MALLOC_MMAP_THRESHOLD_: String(1024 * 1024) };

/** A process has its own memory, which the system takes back when it ends, and no other thread makes it wait. */
export const processLane =
  (script: URL, args: readonly string[] = []): StartLane =>
  ({ answered, ended }) => {
    const child = fork(script, args, {
      serialization: 'advanced',
      stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      env: { ...process.env, ...GIVES_BACK },
    });
    const gone = new Promise<void>((resolve) => {
      const over = (reason: string) => {
        ended(reason);
        resolve();
      };
      child.once('error', (error) => over(error.message));
      child.once('exit', (code, signal) => over(`it ended with ${signal ?? code}`));
    });
    child.on('message', (reply) => answered(reply as Reply));
    return {
      send: (call) => {
        // Where the process is gone, its end rejects the call.
        child.send(call, () => undefined);
      },
      end: async () => {
        child.kill('SIGKILL');
        await gone;
      },
    };
  };
