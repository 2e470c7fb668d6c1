import { readFileSync } from 'node:fs';

/** The version of the package, as its `package.json` says. */
export const version: string = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')).version;
