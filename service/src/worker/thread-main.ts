import { parentPort } from 'node:worker_threads';
import { CALLS, type CallName } from './calls.js';

/** Asked of a thread; answers come in the order of the calls. */
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

function answer(name: CallName, args: readonly unknown[]) {
  try {
    return { result: (CALLS[name] as (...args: readonly unknown[]) => unknown)(...args) };
  } catch (error) {
    const { message, stack } = error as Error;
    return { error: { message, stack } };
  }
}
