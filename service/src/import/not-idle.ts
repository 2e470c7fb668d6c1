import { Refusal } from '../fault/refusal.js';

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

const wentQuiet = (most: number): Refusal =>
  new Refusal('upload-idle', `Nothing of the log came for ${most / 1000} seconds, so the import was ended.`, {
    remedy: 'Send it again; a longer pause is allowed by `jade-fence serve --upload-idle`.',
  });
