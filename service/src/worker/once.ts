import { fork } from 'node:child_process';
import type { Call, Reply } from './answer-calls.js';
import type { CallName, Calls } from './calls.js';
import { ThreadLost } from './thread.js';

/**
 * Has a process of its own do something large that is rarely done: the service goes on deciding meanwhile, and all the
 * memory that it took is given back with the process, which that of a thread is not.
 */
export function once<K extends CallName>(name: K, args: Parameters<Calls[K]>): Promise<ReturnType<Calls[K]>> {
  const child = fork(new URL('thread-main.js', import.meta.url), { serialization: 'advanced' });
  return new Promise<ReturnType<Calls[K]>>((resolve, reject) => {
    child.once('message', (reply: Reply) => {
      if ('result' in reply) resolve(reply.result as ReturnType<Calls[K]>);
      else reject(Object.assign(new Error(reply.error.message), { stack: reply.error.stack }));
    });
    child.once('error', reject);
    child.once('exit', (code, signal) => reject(new ThreadLost(`a worker process was lost: ${signal ?? code}`)));
    child.send({ id: 1, name, args } satisfies Call);
  }).finally(() => child.kill());
}
