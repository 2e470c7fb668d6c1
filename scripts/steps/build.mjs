import { must } from './run.mjs';
import { say } from './say.mjs';

/** Compiles what has changed: types, JavaScript for Node, what calls carry, and the bundles. */
export function build() {
  say('Building');
  must(process.execPath, ['scripts/kernel.mjs']);
  // The compiler is five times as fast as the one before, which tools that read types still need.
  must(process.execPath, ['node_modules/typescript-7/bin/tsc', '-b']);
  must(process.execPath, ['scripts/calls.mjs']);
  for (const cwd of ['service', 'cli', 'console'])
    must('../node_modules/.bin/vite', ['build', '--logLevel', 'warn'], { cwd });
}
