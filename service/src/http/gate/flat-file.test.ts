import { mkdtempSync, readdirSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, expect, it } from 'vitest';
import { readFlat, writeFlat } from './flat-file.js';

const folder = mkdtempSync(join(tmpdir(), 'jade-fence-test-'));
afterAll(() => rmSync(folder, { recursive: true }));

const LARGE = 20_000;
const array = fc.oneof(
  fc.uint8Array({ maxLength: 40 }),
  fc.uint16Array({ maxLength: 40 }),
  fc.int32Array({ maxLength: 40 }),
  fc.uint32Array({ maxLength: 40 }),
  fc.float64Array({ maxLength: 40, noNaN: true }),
  // Of lengths that leave the next one where its elements may not start.
  fc.integer({ min: 1, max: 9 }).map((more) => new Uint8Array(LARGE * 4 + more).fill(more)),
  fc.integer({ min: 1, max: 9 }).map((more) => Uint16Array.from({ length: LARGE * 2 + more }, (_, at) => at)),
  fc.integer({ min: 1, max: 9 }).map((more) => Uint32Array.from({ length: LARGE + more }, (_, at) => at * 65_537)),
  fc.integer({ min: 1, max: 9 }).map((more) => new Float64Array(LARGE).fill(more / 7).subarray(more)),
);
const data = fc.letrec((tie) => ({
  value: fc.oneof({ maxDepth: 3 }, fc.string(), fc.double(), fc.constant(undefined), array, tie('many'), tie('map')),
  many: fc.array(tie('value'), { maxLength: 4 }),
  map: fc.array(fc.tuple(fc.string(), tie('value')), { maxLength: 4 }).map((entries) => new Map(entries)),
}));

it('comes back as it went, whatever arrays are in it', async () => {
  await fc.assert(
    fc.asyncProperty(data.value, async (given) => {
      const path = await writeFlat(folder, given);
      expect(await readFlat(path)).toEqual(given);
      rmSync(path);
    }),
    { numRuns: 60 },
  );
});

it('keeps one array one, wherever it is spoken of', async () => {
  const one = new Uint32Array(LARGE);
  const path = await writeFlat(folder, { a: one, b: [one] });
  const read = (await readFlat(path)) as { a: Uint32Array; b: [Uint32Array] };
  expect(read.b[0]).toBe(read.a);
});

it('lies where its owner alone may read it, and is refused where it is not whole', async () => {
  const path = await writeFlat(join(folder, 'own'), { a: new Uint32Array(LARGE) });
  expect((statSync(path).mode & 0o777).toString(8)).toBe('600');
  expect((statSync(join(folder, 'own')).mode & 0o777).toString(8)).toBe('700');
  expect(readdirSync(join(folder, 'own'))).toHaveLength(1);
  truncateSync(path, 1000);
  await expect(readFlat(path)).rejects.toThrow();
  writeFileSync(path, 'short');
  await expect(readFlat(path)).rejects.toThrow();
});
