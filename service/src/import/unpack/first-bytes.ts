/** This many of the first bytes, or all that there are, to see what they are. More may come with them. */
export async function firstBytes(pieces: AsyncIterator<Buffer>, count: number): Promise<Buffer> {
  let start: Buffer = Buffer.alloc(0);
  while (start.length < count) {
    const next = await pieces.next();
    if (next.done) break;
    start = start.length === 0 ? next.value : Buffer.concat([start, next.value]);
  }
  return start;
}

/** The bytes that were looked at, and the pieces behind them. */
export async function* followed(start: Buffer, pieces: AsyncIterator<Buffer>): AsyncGenerator<Buffer> {
  try {
    if (start.length > 0) yield start;
    for (let next = await pieces.next(); !next.done; next = await pieces.next()) yield next.value;
  } finally {
    await pieces.return?.();
  }
}
