import { chmodSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import { clusterVersion, debianVersions, findPostgres } from './binaries.js';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'jade-fence-binaries-'));
  return () => rmSync(folder, { recursive: true, force: true });
});

/** A folder of versions as Debian has it; of one that is not whole, the server's program is missing. */
function debian(versions: readonly string[], broken: readonly string[] = []): string {
  for (const version of [...versions, ...broken]) {
    const bin = join(folder, 'lib', version, 'bin');
    mkdirSync(bin, { recursive: true });
    for (const program of broken.includes(version) ? ['initdb'] : ['initdb', 'postgres']) {
      writeFileSync(join(bin, program), '');
      chmodSync(join(bin, program), 0o755);
    }
  }
  return join(folder, 'lib');
}

describe('the programs of PostgreSQL', () => {
  it('are the newest for new data, by number and not by letters', () => {
    const lib = debian(['9', '15', '17'], ['18']);
    expect(debianVersions(lib).map(({ version }) => version)).toEqual(['17', '15', '9']);
    expect(findPostgres('', undefined, lib)).toBe(join(lib, '17', 'bin'));
  });

  it('are those that made the data, where Debian has brought newer ones', () => {
    const lib = debian(['15', '17']);
    expect(findPostgres('', '15', lib)).toBe(join(lib, '15', 'bin'));
  });

  it('are reported when they are gone, with what to install', () => {
    const lib = debian(['17']);
    expect(() => findPostgres('', '15', lib)).toThrow(
      expect.objectContaining({
        code: 'postgresql-version',
        remedy: expect.stringMatching(/`postgresql-15`.*`jade-fence database upgrade`.* 17/),
      }),
    );
    expect(() => findPostgres('', undefined, join(folder, 'nothing'))).toThrow(
      expect.objectContaining({ code: 'no-postgresql' }),
    );
  });

  it('are looked for by what the data says of itself', () => {
    expect(clusterVersion(folder)).toBeUndefined();
    writeFileSync(join(folder, 'PG_VERSION'), '15\n');
    expect(clusterVersion(folder)).toBe('15');
  });
});
