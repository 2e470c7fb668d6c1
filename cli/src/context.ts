import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Client } from './client/client.js';
import { EXIT } from './exit-code.js';
import { failure } from './failure.js';
import type { Terminal } from './output/terminal.js';
import { type Profile, readProfiles } from './profiles.js';

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

export function createContext(options: GlobalOptions, terminal: Terminal, env: NodeJS.ProcessEnv): Context {
  const json = options.json === true;
  const profile = chosenProfile(options, env);
  const service = options.service ?? env.JADE_FENCE_URL ?? profile?.service ?? DEFAULT_SERVICE;
  return {
    client: new Client(service, () => accessKey(options.keyFile, profile, service, env)),
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
  const { current, profiles } = readProfiles(env);
  const profile = profiles.get(name ?? current ?? '');
  if (name !== undefined && profile === undefined)
    throw failure(EXIT.usage, 'no-profile', { name, names: [...profiles.keys()].join(', ') });
  return profile;
}

/** From the file that is named, JADE_FENCE_KEY, the profile, or the data folder of a service on this machine. */
function accessKey(
  file: string | undefined,
  profile: Profile | undefined,
  service: string,
  env: NodeJS.ProcessEnv,
): string {
  if (file === undefined && env.JADE_FENCE_KEY) return env.JADE_FENCE_KEY.trim();
  // A key goes to the service that it is of, and to no other.
  if (file === undefined && profile?.service === service) return profile.key;
  const places = file === undefined ? usualPlaces(env) : [file];
  const found = places.find((place) => existsSync(place));
  try {
    if (found !== undefined) return readFileSync(found, 'utf8').trim();
  } catch {
    throw failure(EXIT.service, 'no-access-key/unreadable', { file: found as string });
  }
  throw failure(EXIT.service, 'no-access-key', { places: places.join(', ') });
}

/** Where `jade-fence service run` puts the key by default. */
function usualPlaces(env: NodeJS.ProcessEnv): string[] {
  const folders = [env.XDG_DATA_HOME, env.HOME && join(env.HOME, '.local', 'share')].filter((folder) => folder);
  return [
    ...folders.map((folder) => join(folder as string, 'jade-fence', 'access-key')),
    '/var/lib/jade-fence/access-key',
  ];
}
