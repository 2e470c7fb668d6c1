import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Client } from './client/client.js';
import { EXIT } from './exit-code.js';
import { failure } from './failure.js';
import type { Terminal } from './output/terminal.js';
import { type Profile, profileNamed, readProfiles } from './profiles.js';

/** The options that every command takes. */
export interface GlobalOptions {
  readonly service?: string;
  readonly keyFile?: string;
  readonly profile?: string;
  readonly json?: boolean;
  readonly quiet?: boolean;
}

/** What a command works with. */
export interface Context {
  readonly client: Client;
  readonly terminal: Terminal;
  readonly env: NodeJS.ProcessEnv;
  readonly json: boolean;
  /** Writes the answer: as JSON with `--json`, else as text for people; with `--quiet` not at all. */
  readonly show: <T>(answer: T, text: (answer: T) => string, as?: 'prose' | 'document') => void;
}

export const DEFAULT_SERVICE = 'http://127.0.0.1:7440';

/** @param signal ends every call that is under way */
export function createContext(
  options: GlobalOptions,
  terminal: Terminal,
  env: NodeJS.ProcessEnv,
  signal?: AbortSignal,
): Context {
  const json = options.json === true;
  const profile = chosenProfile(options, env);
  const named = options.service ?? env.JADE_FENCE_URL;
  const service = named ?? profile?.service ?? DEFAULT_SERVICE;
  const own = profile?.service === service ? profile : undefined;
  return {
    client: new Client(service, () => accessKey(options.keyFile, own, service, named === undefined, env), signal),
    terminal,
    env,
    json,
    show: (answer, text, as = 'prose') => {
      if (options.quiet) return;
      if (json) terminal.out(JSON.stringify(answer, null, 2));
      else terminal.page(text(answer), as === 'document');
    },
  };
}

/** The profile that is named, or else the current one. */
function chosenProfile({ profile: named }: GlobalOptions, env: NodeJS.ProcessEnv): Profile | undefined {
  const name = named ?? env.JADE_FENCE_PROFILE;
  const all = readProfiles(env);
  return name === undefined ? all.profiles.get(all.current ?? '') : profileNamed(all, name);
}

/**
 * The key of a service: from the file that is named; of a profile, where the service is that profile's; from
 * JADE_FENCE_KEY; from the data folder of a service on this machine, for a service on this machine. A key goes to no service
 * that it is not of.
 */
function accessKey(
  file: string | undefined,
  profile: Profile | undefined,
  service: string,
  /** Whether the profile says where the service is, so that a key in the environment is for another. */
  byProfile: boolean,
  env: NodeJS.ProcessEnv,
): string {
  if (file === undefined && profile && byProfile) return profile.key;
  if (file === undefined && env.JADE_FENCE_KEY) return env.JADE_FENCE_KEY.trim();
  if (file === undefined && profile) return profile.key;
  const places = file === undefined ? (isHere(service) ? usualPlaces(env) : []) : [file];
  const found = places.find((place) => existsSync(place));
  try {
    if (found !== undefined) return readFileSync(found, 'utf8').trim();
  } catch {
    throw failure(EXIT.service, 'no-access-key/unreadable', { file: found as string });
  }
  if (places.length === 0) throw failure(EXIT.service, 'no-access-key/elsewhere', { service });
  throw failure(EXIT.service, 'no-access-key', { places: places.join(', ') });
}

/** Whether a service is on this machine. */
export function isHere(service: string): boolean {
  if (!URL.canParse(service)) return false;
  return /^(?:localhost|127(?:\.\d+){3}|\[::1\])$/.test(new URL(service).hostname);
}

/** Where `jade-fence service run` puts the key by default. */
function usualPlaces(env: NodeJS.ProcessEnv): string[] {
  const folders = [env.XDG_DATA_HOME, env.HOME && join(env.HOME, '.local', 'share')].filter((folder) => folder);
  return [
    ...folders.map((folder) => join(folder as string, 'jade-fence', 'access-key')),
    '/var/lib/jade-fence/access-key',
  ];
}
