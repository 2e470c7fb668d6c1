import type { AnswerOf, CallsWith, Carried } from './call.js';
import type { CallName } from './calls.js';

/** The calls that answer in pages. */
export type PagedCall = {
  [C in CallName]: AnswerOf<C> extends { readonly next: string | number | null } ? C : never;
}[CallsWith<'query'>];

const MOST = 1000;

/**
 * All pages of a collection as one answer, whose `next` is null. `ask` makes the call; the query may say which items, and
 * not where a page begins.
 */
export async function whole<C extends PagedCall>(
  ask: (carried: Carried<C>) => Promise<AnswerOf<C>>,
  carried: Carried<C>,
): Promise<AnswerOf<C>> {
  type AnyPage = Record<string, unknown> & { readonly next?: string | number | null };
  const { query } = carried as { readonly query?: object };
  const pageAfter = async (after: string | number | undefined) =>
    (await ask({ ...carried, query: { ...query, after, limit: MOST } })) as unknown as AnyPage;
  const all: AnyPage = { ...(await pageAfter(undefined)) };
  // An answer without `next` is of something that is no service of ours, and ends it too.
  let { next = null } = all;
  while (next !== null) {
    const page = await pageAfter(next);
    for (const [name, items] of Object.entries(page))
      if (Array.isArray(items)) all[name] = [...(all[name] as unknown[]), ...items];
    next = page.next === next ? null : (page.next ?? null);
  }
  return { ...all, next: null } as unknown as AnswerOf<C>;
}
