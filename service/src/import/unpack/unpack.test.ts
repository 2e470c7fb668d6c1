import { execFileSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterAll, describe, expect, it } from 'vitest';
import { Refusal } from '../../fault/refusal.js';
import type { DamagedFile } from './damaged-file.js';
import { unpacked } from './unpack.js';

const folder = mkdtempSync(join(tmpdir(), 'jade-fence-unpack-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const LINES = Array.from({ length: 5000 }, (_, at) => `{"host":"a.example","path":"/p/${at}"}\n`).join('');

/** What comes out, the code of the refusal, and the damaged files. */
async function out(packed: Buffer, { piece = 1000, maxBytes = 100_000_000 } = {}) {
  async function* pieces(): AsyncGenerator<Buffer> {
    for (let at = 0; at < packed.length; at += piece) yield packed.subarray(at, at + piece);
  }
  const damaged: DamagedFile[] = [];
  const found: Buffer[] = [];
  try {
    for await (const each of unpacked(pieces(), maxBytes, (file) => damaged.push(file))) found.push(Buffer.from(each));
    return { text: Buffer.concat(found).toString(), damaged };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return { code: error.code, detail: error.detail };
  }
}

/** Packs with the program of the machine, which is not ours. */
const packedBy = (program: string, args: readonly string[], input: Buffer | string): Buffer =>
  execFileSync(program, [...args], { input, maxBuffer: 1 << 28 });
const zstd = (input: Buffer | string, ...args: readonly string[]) => packedBy('zstd', ['-q', '-c', ...args], input);

function tar(files: Readonly<Record<string, Buffer | string>>, ...args: readonly string[]): Buffer {
  const at = mkdtempSync(join(folder, 'tar-'));
  for (const [name, content] of Object.entries(files)) {
    mkdirSync(join(at, name, '..'), { recursive: true });
    writeFileSync(join(at, name), content);
  }
  execFileSync('tar', ['-cf', join(folder, 'made.tar'), ...args, '-C', at, ...Object.keys(files)]);
  return readFileSync(join(folder, 'made.tar'));
}

describe.each([1, 7, 1000, 1 << 20])('in pieces of %d bytes', (piece) => {
  it.each([
    ['plain', () => Buffer.from(LINES)],
    ['gzip', () => gzipSync(LINES)],
    ['gzip of two members', () => Buffer.concat([gzipSync(LINES.slice(0, 500)), gzipSync(LINES.slice(500))])],
    ['zstd', () => zstd(LINES)],
    ['zstd without a checksum', () => zstd(LINES, '--no-check')],
    ['zstd of two frames', () => Buffer.concat([zstd(LINES.slice(0, 500)), zstd(LINES.slice(500), '-19')])],
    [
      'zstd from a pipe',
      () => packedBy('zstd', ['-q', '-c', '--stream-size=1', '--no-content-size'], LINES.slice(0, 1)),
    ],
  ])('unpacks %s', async (name, packed) => {
    if (piece === 1 && name === 'plain') return;
    const expected = name.endsWith('pipe') ? LINES.slice(0, 1) : LINES;
    expect(await out(packed(), { piece })).toEqual({ text: expected, damaged: [] });
  });
});

it('unpacks frames of zstd that hold nothing, and skips those of no length', async () => {
  const none = Buffer.from([0x5a, 0x2a, 0x4d, 0x18, 0, 0, 0, 0]);
  const empty = [zstd(''), none, zstd('', '--no-check'), zstd('x\n'), none, zstd('')];
  for (const piece of [1, 1000])
    expect(await out(Buffer.concat(empty), { piece })).toEqual({ text: 'x\n', damaged: [] });
  expect(await out(zstd(''))).toEqual({ text: '', damaged: [] });
});

it('skips frames of zstd that are not for unpacking (RFC 8878, 3.1.2)', async () => {
  const skippable = Buffer.concat([Buffer.from([0x5a, 0x2a, 0x4d, 0x18, 3, 0, 0, 0]), Buffer.from('abc')]);
  expect(await out(Buffer.concat([zstd('x\n'), skippable, zstd('y\n')]))).toEqual({ text: 'x\ny\n', damaged: [] });
});

describe('zstd', () => {
  const packed = zstd(LINES);

  it.each([1, 5, 20, 1000])('that is cut off by %d bytes is refused', async (bytes) => {
    const cut = packed.subarray(0, packed.length - bytes);
    const detail = 'The packed log is cut off; nothing was imported.';
    expect(await out(cut)).toEqual({ code: 'damaged-log', detail });
  });

  it('that is damaged is refused, and never crashes', async () => {
    for (let round = 0; round < 200; round++) {
      const broken = Buffer.from(packed);
      const at = 4 + Math.floor(((packed.length - 4) * round) / 200);
      broken[at] = (broken[at] as number) ^ (1 << (round % 8));
      const found = await out(broken, { maxBytes: 10_000_000 });
      // Some bits change a text, or a checksum, which is not computed here.
      expect('code' in found ? found.code : 'text').toMatch(/^(?:damaged-log|text)$/);
    }
  });

  it('that asks for more memory than 128 MiB is refused before it is given', async () => {
    const large = zstd(randomBytes(100), '--ultra', '-22', '--long=31', '--no-content-size');
    // Made by hand where the program asks for less than it may: a frame with a window of 2 GiB.
    const header = Buffer.from([0x28, 0xb5, 0x2f, 0xfd, 0x00, (31 - 10) << 3, 0x01, 0x00, 0x00]);
    expect(await out(header)).toMatchObject({ code: 'damaged-log', detail: expect.stringContaining('128 MiB') });
    expect(large.length).toBeGreaterThan(0);
  });

  it('that asks for much memory in frame after frame is refused', async () => {
    // A window of 128 MiB, and one empty block.
    const frame = Buffer.from([0x28, 0xb5, 0x2f, 0xfd, 0x00, (27 - 10) << 3, 0x01, 0x00, 0x00]);
    const started = performance.now();
    expect(await out(Buffer.concat(Array.from({ length: 50_000 }, () => frame)), { piece: 1 << 20 })).toMatchObject({
      code: 'damaged-log',
      detail: expect.stringContaining('again and again'),
    });
    expect(performance.now() - started).toBeLessThan(20_000);
  });

  it('that grows beyond what is taken is stopped by who counts what comes out', async () => {
    let size = 0;
    const bomb = zstd(Buffer.alloc(300_000_000), '-19');
    async function* one(): AsyncGenerator<Buffer> {
      yield bomb;
    }
    const before = process.memoryUsage().arrayBuffers;
    for await (const piece of unpacked(one(), 1_000_000, () => undefined)) {
      size += piece.length;
      if (size > 1_000_000) break;
    }
    expect(size).toBeLessThan(2_000_000);
    // Not all of it was unpacked before the first bytes came.
    expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(100_000_000);
  });
});

describe('an archive', () => {
  const two = { 'a/one.log': 'one\n', 'b/two.log': 'two' };

  it.each([
    ['plain', (made: Buffer) => made],
    ['packed with gzip', (made: Buffer) => gzipSync(made)],
    ['packed with zstd', (made: Buffer) => zstd(made)],
  ])('that is %s gives its files, each ended by a line feed', async (_, pack) => {
    expect(await out(pack(tar(two)))).toEqual({ text: 'one\ntwo\n', damaged: [] });
  });

  it.each(['ustar', 'pax', 'gnu'])('of the form %s is read, with names of any length', async (form) => {
    const long = `${'deep/'.repeat(30)}log`;
    expect(await out(tar({ [long]: 'x\n' }, `--format=${form}`))).toEqual({ text: 'x\n', damaged: [] });
  });

  it('may hold packed files, and says which of a thousand is damaged', async () => {
    const files = Object.fromEntries(
      Array.from({ length: 1000 }, (_, at) => [`${String(at).padStart(4, '0')}.gz`, gzipSync(`line ${at}\n`)]),
    );
    const broken = gzipSync(`${randomBytes(40_000).toString('hex')}\n`);
    files['0500.gz'] = broken.subarray(0, broken.length / 2);
    const found = await out(tar(files));
    const text = 'text' in found ? found.text : '';
    expect(text.match(/^line \d+$/gm)).toHaveLength(999);
    expect('damaged' in found && found.damaged).toEqual([{ file: '0500.gz', reason: 'The packed log is cut off' }]);
  });

  it('that is cut off is refused, wherever that is', async () => {
    const made = tar({ 'one.log': LINES, 'two.log': 'two\n' });
    for (const end of [700, 100_000, Buffer.byteLength(LINES) + 600])
      expect(await out(made.subarray(0, end))).toMatchObject({ code: 'damaged-log' });
  });

  it('with links, folders and devices gives nothing for them', async () => {
    const at = mkdtempSync(join(folder, 'links-'));
    execFileSync('bash', ['-c', `cd ${at} && echo x > a && ln -s /etc/passwd b && ln a c && mkdir d && mkfifo e`]);
    execFileSync('tar', ['-cf', join(folder, 'links.tar'), '-C', at, 'a', 'b', 'c', 'd', 'e']);
    expect(await out(readFileSync(join(folder, 'links.tar')))).toEqual({ text: 'x\n', damaged: [] });
  });
});

it.each(['bzip2', 'xz'])('refuses %s, and says what it would take', async (program) => {
  expect(await out(packedBy(program, ['-c'], LINES))).toMatchObject({ code: 'compressed-log' });
});
