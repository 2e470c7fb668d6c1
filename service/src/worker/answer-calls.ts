import { parentPort } from 'node:worker_threads';

/** Asked of a thread, or of a process of its own. */
export interface Call {
  readonly id: number;
  readonly name: string;
  readonly args: readonly unknown[];
}

export type Reply = { readonly id: number } & (
  | { readonly result: unknown }
  | { readonly error: { readonly message: string; readonly stack: string | undefined } }
);

/** The calls that a thread answers. Arguments and results are copied from thread to thread. */
export type AnyCalls = Readonly<Record<string, (...args: never[]) => unknown>>;

/**
 * Answers whoever started this thread, or this process. Calls that wait for nothing are answered in the order of their
 * coming.
 */
export function answerCalls(calls: AnyCalls): void {
  const answerTo = (send: (reply: Reply) => void) => async (call: Call) => send(await answer(calls, call));
  parentPort?.on(
    'message',
    answerTo((reply) => parentPort?.postMessage(reply)),
  );
  process.on('message', answerTo((reply) => process.send?.(reply)) as (message: unknown) => void);
}

async function answer(calls: AnyCalls, { id, name, args }: Call): Promise<Reply> {
  try {
    return { id, result: await (calls[name] as (...args: readonly unknown[]) => unknown)(...args) };
  } catch (error) {
    const { message, stack } = error as Error;
    return { id, error: { message, stack } };
  }
}
