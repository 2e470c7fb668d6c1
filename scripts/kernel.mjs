// Compiles the inner loops of `core/kernel` to WebAssembly, as text in a module of `core`, which has no I/O to read a
// file with. Does nothing where they have not changed.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

const SOURCE = fileURLToPath(new URL('../core/kernel/', import.meta.url));
const COMPILED = fileURLToPath(new URL('../core/src/kernel/compiled.ts', import.meta.url));
const OPTIONS = ['--optimizeLevel', '3', '--noAssert', '--runtime', 'minimal', '--enable', 'simd'];
// 2 GiB, so that a place is never above what 31 bits hold.
OPTIONS.push('--maximumMemory', '32768');

const files = readdirSync(SOURCE).filter((name) => name.endsWith('.ts'));
const texts = new Map(files.sort().map((name) => [name, readFileSync(SOURCE + name, 'utf8')]));
const hash = createHash('sha256');
hash.update([asc.version, ...OPTIONS, ...texts.keys(), ...texts.values()].join('\0'));
const digest = hash.digest('hex');

if (!existsSync(COMPILED) || !readFileSync(COMPILED, 'utf8').includes(digest)) {
  let bytes;
  const { error, stderr } = await asc.main(['index.ts', '--outFile', 'kernel.wasm', ...OPTIONS], {
    readFile: (name) => texts.get(name) ?? null,
    writeFile: (name, contents) => {
      if (name === 'kernel.wasm') bytes = contents;
    },
    listFiles: () => [],
  });
  if (error) {
    console.error(stderr.toString());
    process.exit(1);
  }
  const text = Buffer.from(bytes).toString('base64');
  const head = `// Compiled from core/kernel by scripts/kernel.mjs: ${digest}\n`;
  writeFileSync(COMPILED, `${head}export const COMPILED =\n  '${text}';\n`);
}
