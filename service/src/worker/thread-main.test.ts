import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';

/** What modules load when the one is loaded, by their import statements; types are loaded by nobody. */
function loadedBy(url: URL, seen = new Set<string>()): Set<string> {
  if (seen.has(url.href)) return seen;
  seen.add(url.href);
  const text = readFileSync(url, 'utf8');
  for (const [, name] of text.matchAll(/^(?:import|export) (?!type )[^;]*?from '([^']+)';/gm)) {
    if (name?.startsWith('.')) loadedBy(new URL(name.replace(/\.js$/, '.ts'), url), seen);
    else seen.add(name as string);
  }
  return seen;
}

it('loads no database: a thread gets what it works on, and the drivers would take most of its start', () => {
  const loaded = [...loadedBy(new URL('thread-main.ts', import.meta.url))];
  expect(loaded.filter((name) => name.includes('/worker/calls/')).length).toBeGreaterThan(4);
  expect(loaded.filter((name) => /^(?:objection|knex|pg)|\/(?:model|database)\//.test(name))).toEqual([]);
});
