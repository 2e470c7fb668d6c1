import { Refusal, refusal } from '../fault/refusal.js';

/**
 * The upload while it comes: it fails after this many milliseconds without a byte, so that a sender that
 * went quiet holds nothing.
 */
export async function* notIdle(bytes: AsyncIterable<Buffer>, most: number): AsyncGenerator<Buffer> {
  const sent = bytes[Symbol.asyncIterator]();
  try {
    for (;;) {
      const next = await within(sent.next(), most);
      if (next.done) return;
      yield next.value;
    }
  } finally {
    void sent.return?.();
  }
}

function within<T>(promise: Promise<T>, most: number): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const idle = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(wentQuiet(most)), most);
  });
  return Promise.race([promise, idle]).finally(() => clearTimeout(timer));
}

const wentQuiet = (most: number): Refusal => refusal('upload-idle', { seconds: most / 1000 });
