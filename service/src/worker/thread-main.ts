import { parentPort } from 'node:worker_threads';
import { seedHashesAtRandom } from '../hash-secret.js';
import { CALLS, type CallName } from './calls.js';

seedHashesAtRandom();

/** Asked of a thread, or of a process of its own; answers come in the order of the calls. */
export interface Call {
  readonly id: number;
  readonly name: CallName;
  readonly args: readonly unknown[];
}

export type Reply = { readonly id: number } & (
  | { readonly result: unknown }
  | { readonly error: { readonly message: string; readonly stack: string | undefined } }
);

parentPort?.on('message', ({ id, name, args }: Call) => {
  parentPort?.postMessage({ id, ...answer(name, args) } satisfies Reply);
});

// The same in a process of its own.
process.on('message', ({ id, name, args }: Call) => {
  process.send?.({ id, ...answer(name, args) } satisfies Reply);
});

function answer(name: CallName, args: readonly unknown[]) {
  try {
    return { result: (CALLS[name] as (...args: readonly unknown[]) => unknown)(...args) };
  } catch (error) {
    const { message, stack } = error as Error;
    return { error: { message, stack } };
  }
}
