import { parentPort } from 'node:worker_threads';
import { CALLS, type CallName } from './calls.js';

/** Asked of a thread; answers come in the order of the calls. */
export interface Call {
  readonly id: number;
  readonly name: CallName;
  readonly args: readonly unknown[];
  /** Buffers that were moved to the thread. */
  readonly back: readonly ArrayBuffer[];
}

export type Reply = { readonly id: number; readonly back: readonly ArrayBuffer[] } & (
  | { readonly result: unknown }
  | { readonly error: { readonly message: string; readonly stack: string | undefined } }
);

parentPort?.on('message', ({ id, name, args, back }: Call) => {
  // What was moved here goes back with the answer, so that its memory is used again.
  parentPort?.postMessage({ id, back, ...answer(name, args) } satisfies Reply, [...back]);
});

function answer(name: CallName, args: readonly unknown[]) {
  try {
    return { result: (CALLS[name] as (...args: readonly unknown[]) => unknown)(...args) };
  } catch (error) {
    const { message, stack } = error as Error;
    return { error: { message, stack } };
  }
}
