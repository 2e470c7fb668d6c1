import { chmodSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import type { SourceFile } from '@jade-fence/core/workspace';

const FILE = 'in-force.json.gz';
const LARGEST = 2 * 1024 ** 3;

/** All that decisions are made by, as it is kept in the data folder for when the database is away. Plain data. */
export interface KeptPlan {
  readonly revision: number;
  readonly documents: readonly SourceFile[];
  /** Country data as it is stored, in base64; null where there is none. */
  readonly country: string | null;
  /** The answers for hosts as they are stored, the oldest first, in base64; not kept by versions before there were any. */
  readonly resolutions?: readonly string[];
  /** The tokens of gateways: hashes, and until when each holds. */
  readonly gateways: readonly { readonly hash: string; readonly expiresAt: string | null }[];
  /** The key of grants in base64, and the version of each passcode. */
  readonly grantKey: string;
  readonly passcodes: Readonly<Record<string, string>>;
}

/** Writes what is in force, whole or not at all, for its owner alone. */
export function writeKeptPlan(folder: string, plan: KeptPlan): void {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const file = join(folder, FILE);
  writeFileSync(`${file}.new`, gzipSync(JSON.stringify(plan), { level: 1 }), { mode: 0o600 });
  chmodSync(`${file}.new`, 0o600);
  renameSync(`${file}.new`, file);
}

/** What was in force when the database was there last; undefined where nothing is kept. Throws where it cannot be read. */
export function readKeptPlan(folder: string): KeptPlan | undefined {
  let packed: Buffer;
  try {
    packed = readFileSync(join(folder, FILE));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return undefined;
    throw error;
  }
  return JSON.parse(gunzipSync(packed, { maxOutputLength: LARGEST }).toString()) as KeptPlan;
}
