const LARGE = 64 * 1024;

/** The large buffers that plain data holds, each once. */
export function largeBuffersIn(data: unknown): ArrayBuffer[] {
  const found = new Set<ArrayBuffer>();
  const seen = new Set<object>();
  const waiting: unknown[] = [data];
  while (waiting.length > 0) {
    const value = waiting.pop();
    if (typeof value !== 'object' || value === null || seen.has(value)) continue;
    seen.add(value);
    if (ArrayBuffer.isView(value)) {
      if (value.buffer instanceof ArrayBuffer && value.buffer.byteLength >= LARGE) found.add(value.buffer);
    } else if (value instanceof Map) for (const [key, each] of value) waiting.push(key, each);
    else if (value instanceof Set) for (const each of value) waiting.push(each);
    else for (const each of Object.values(value)) waiting.push(each);
  }
  return [...found];
}
