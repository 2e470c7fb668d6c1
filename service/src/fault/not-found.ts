import { suggest } from '@jade-fence/core/issue';
import { Refusal } from './refusal.js';

/** The problem of a name that nothing has, with what was most likely meant. */
export function notFound(kind: string, name: string, known: readonly string[], remedy: string): Refusal {
  const meant = suggest(name, known);
  return new Refusal('missing', `unknown-${kind.replaceAll(' ', '-')}`, `There is no ${kind} \`${name}\`.`, {
    remedy: meant === undefined ? remedy : `Did you mean \`${meant}\`?`,
  });
}
