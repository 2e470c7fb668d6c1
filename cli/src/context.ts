import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Client } from './client/client.js';
import { EXIT } from './exit-code.js';
import { failure } from './failure.js';
import type { Terminal } from './output/terminal.js';

/** The options that every command takes. */
export interface GlobalOptions {
  readonly service: string;
  readonly keyFile?: string;
  readonly json?: boolean;
}

/** What a command works with. */
export interface Context {
  readonly client: Client;
  readonly terminal: Terminal;
  readonly json: boolean;
  /** Writes the answer: as JSON with `--json`, else as text for people. */
  readonly show: <T>(answer: T, text: (answer: T) => string) => void;
}

export const DEFAULT_SERVICE = 'http://127.0.0.1:7440';

export function createContext(options: GlobalOptions, terminal: Terminal, env: NodeJS.ProcessEnv): Context {
  const json = options.json === true;
  return {
    client: new Client(options.service, () => accessKey(options.keyFile, env)),
    terminal,
    json,
    show: (answer, text) => terminal.out(json ? JSON.stringify(answer, null, 2) : text(answer)),
  };
}

/** From JADE_FENCE_KEY, or the file that is named, or the data folder of a service on this machine. */
function accessKey(file: string | undefined, env: NodeJS.ProcessEnv): string {
  if (file === undefined && env.JADE_FENCE_KEY) return env.JADE_FENCE_KEY.trim();
  const places = file === undefined ? usualPlaces(env) : [file];
  const found = places.find((place) => existsSync(place));
  try {
    if (found !== undefined) return readFileSync(found, 'utf8').trim();
  } catch {
    throw failure(EXIT.service, 'no-access-key/unreadable', { file: found as string });
  }
  throw failure(EXIT.service, 'no-access-key', { places: places.join(', ') });
}

/** Where `jade-fence serve` puts the key by default. */
function usualPlaces(env: NodeJS.ProcessEnv): string[] {
  const folders = [env.XDG_DATA_HOME, env.HOME && join(env.HOME, '.local', 'share')].filter((folder) => folder);
  return [
    ...folders.map((folder) => join(folder as string, 'jade-fence', 'access-key')),
    '/var/lib/jade-fence/access-key',
  ];
}
