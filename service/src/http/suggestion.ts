import { suggest } from '@jade-fence/core';
import { Problem } from './problem.js';

/** The problem of a name that nothing has, with what was most likely meant. */
export function notFound(kind: string, name: string, known: readonly string[], remedy: string): Problem {
  const meant = suggest(name, known);
  return new Problem(404, `unknown-${kind.replaceAll(' ', '-')}`, `There is no ${kind} \`${name}\`.`, {
    remedy: meant === undefined ? remedy : `Did you mean \`${meant}\`?`,
  });
}
