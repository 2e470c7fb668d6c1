import type { AnswerOf, CallsWith, Carried } from './call.js';
import type { CallName } from './calls.js';

/*
 * Every collection is told in pages, by one convention: `after` is the key of the last item that was seen, in the order of
 * the collection; `limit` says how many items come at most; `next` is the key to go on after, and null at the end.
 */

/** A page of what is numbered. */
export interface PageQuery {
  readonly after?: number;
  /** 1 to 1000; without it 100. */
  readonly limit?: number;
}

/** A page of what goes by name. */
export interface NamedPageQuery {
  readonly after?: string;
  /** 1 to 1000; without it 100. */
  readonly limit?: number;
}

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
  type AnyPage = Record<string, unknown> & { readonly next: string | number | null };
  const { query } = carried as { readonly query?: object };
  const pageAfter = async (after: string | number | undefined) =>
    (await ask({ ...carried, query: { ...query, after, limit: MOST } })) as unknown as AnyPage;
  const all: AnyPage = { ...(await pageAfter(undefined)) };
  let { next } = all;
  while (next !== null) {
    const page = await pageAfter(next);
    for (const [name, items] of Object.entries(page))
      if (Array.isArray(items)) all[name] = [...(all[name] as unknown[]), ...items];
    next = page.next;
  }
  return { ...all, next: null } as unknown as AnswerOf<C>;
}
