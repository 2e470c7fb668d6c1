import { randomBytes } from 'node:crypto';
import { seedHashes } from '@jade-fence/core/column';

/** Gives this thread's tables secrets of their own, before anything that traffic brings comes into them. */
export function seedHashesAtRandom(): void {
  const bytes = randomBytes(8);
  seedHashes(bytes.readInt32LE(0), bytes.readInt32LE(4));
}
