import type { ProblemCode } from '@jade-fence/contract';
import { suggest } from '@jade-fence/core/issue';
import { Refusal } from './refusal.js';

type UnknownIn<Code> = Code extends `unknown-${infer Thing}` ? Thing : never;
/** What there may be none of: `rule`, `kind-of-object`. */
export type Thing = UnknownIn<ProblemCode>;

/** The problem of a name that nothing has, with what was most likely meant. */
export function notFound(thing: Thing, name: string, known: readonly string[], remedy: string): Refusal {
  const meant = suggest(name, known);
  return new Refusal(`unknown-${thing}`, `There is no ${thing.replaceAll('-', ' ')} \`${name}\`.`, {
    remedy: meant === undefined ? remedy : `Did you mean \`${meant}\`?`,
  });
}
