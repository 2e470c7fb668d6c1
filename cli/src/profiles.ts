import { chmodSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { EXIT } from './exit-code.js';
import { failure } from './failure.js';

/** A service that one has signed in to, and the key for it. */
export interface Profile {
  readonly service: string;
  readonly key: string;
  /** The number of the token that was made for it; undefined for a key that was given. */
  readonly token?: number;
}

/** All profiles by name, and the one that is used where none is named. */
export interface Profiles {
  readonly current: string | null;
  readonly profiles: ReadonlyMap<string, Profile>;
}

const NONE: Profiles = { current: null, profiles: new Map() };

/** The file of the profiles, in the folder that the XDG base directories give; undefined without a home. */
export function profilesFile({ XDG_CONFIG_HOME, HOME }: NodeJS.ProcessEnv): string | undefined {
  const folder = XDG_CONFIG_HOME || (HOME && join(HOME, '.config'));
  return folder ? join(folder, 'jade-fence', 'profiles.json') : undefined;
}

/** Reads the profiles; none where there is no file yet. */
export function readProfiles(env: NodeJS.ProcessEnv): Profiles {
  const file = profilesFile(env);
  if (file === undefined) return NONE;
  try {
    const { current, profiles } = JSON.parse(readFileSync(file, 'utf8')) as StoredProfiles;
    const own = Object.entries(profiles).filter(([, { service, key }]) => isText(service) && isText(key));
    return { current: isText(current) ? current : null, profiles: new Map(own) };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return NONE;
    throw failure(EXIT.notHeld, 'bad-profiles', { file });
  }
}

/** The profile of a name; of none where there is no current one. Fails with `no-profile` where there is none. */
export function profileNamed({ profiles }: Profiles, name: string | null): Profile {
  const profile = profiles.get(name ?? '');
  if (profile) return profile;
  throw failure(EXIT.usage, 'no-profile', { name: name ?? '', names: [...profiles.keys()].join(', ') });
}

interface StoredProfiles {
  readonly current: unknown;
  readonly profiles: Readonly<Record<string, Profile>>;
}

const isText = (value: unknown): value is string => typeof value === 'string';

/** Writes the profiles, for the own user alone. */
export function writeProfiles(env: NodeJS.ProcessEnv, { current, profiles }: Profiles): string {
  const file = profilesFile(env);
  if (file === undefined) throw failure(EXIT.notHeld, 'no-home');
  const text = `${JSON.stringify({ current, profiles: Object.fromEntries(profiles) }, null, 2)}\n`;
  try {
    mkdirSync(dirname(file), { recursive: true, mode: 0o700 });
    // In one step, so that two commands at a time leave the file of one of them, and not a broken one.
    const next = `${file}.${process.pid}`;
    writeFileSync(next, text, { mode: 0o600 });
    chmodSync(next, 0o600);
    renameSync(next, file);
  } catch (error) {
    throw failure(EXIT.notHeld, 'not-written', { to: file, message: (error as Error).message });
  }
  return file;
}
