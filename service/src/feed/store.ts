import { type FeedOutcome } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { type Page, type PageAsked, pageOf } from '../database/page.js';
import { notFound } from '../fault/not-found.js';
import { Feed } from '../model/feed.js';

/** By the names of their lists. */
export function pageOfFeeds(knex: Knex, page: PageAsked<string>): Promise<Page<Feed, string>> {
  return pageOf(Feed.query(knex), 'list', 'asc', page);
}

/** The feed of a list. Refuses with `unknown-feed`. */
export async function findFeed(knex: Knex, list: string): Promise<Feed> {
  const found = await Feed.query(knex).findById(list);
  if (found) return found;
  const known = (await Feed.query(knex).select('list').orderBy('list')).map((each) => each.list);
  throw notFound('feed', list, known, known.length > 0 ? `There are: ${known.join(', ')}.` : 'No list has a feed.');
}

export type NewFeed = Pick<
  Feed,
  'list' | 'sort' | 'source' | 'everySeconds' | 'allowPrivate' | 'publish' | 'madeBy' | 'nextAt'
>;

/** Keeps a feed, in place of one of the same list. */
export async function saveFeed(trx: Knex.Transaction, feed: NewFeed): Promise<Feed> {
  const fresh = { ...feed, tag: null, last: null, goodAt: null };
  await Feed.query(trx).insert(fresh).onConflict('list').merge();
  return findFeed(trx, feed.list);
}

/** Takes a feed that is due, so that no other service does; undefined where none is. It is due again by its time. */
export async function takeDueFeed(knex: Knex, now: Date): Promise<Feed | undefined> {
  return knex.transaction(async (trx) => {
    const due = await Feed.query(trx).where('nextAt', '<=', now).orderBy('nextAt').first().forUpdate().skipLocked();
    if (due) await postpone(trx, due, now);
    return due;
  });
}

/** Stores the result of a fetch; does nothing when the source has changed since. */
export async function saveOutcome(
  knex: Knex,
  { list, source }: Pick<Feed, 'list' | 'source'>,
  last: FeedOutcome,
  tag: string | null | undefined,
): Promise<void> {
  const good = last.outcome === 'failed' ? {} : { goodAt: new Date(last.at), ...(tag !== undefined && { tag }) };
  await Feed.query(knex)
    .where({ list, source })
    .patch({ last, ...good });
}

/** Says that a feed is fetched now, and is due again by its time. */
export async function postpone(
  knex: Knex,
  { list, everySeconds }: Pick<Feed, 'list' | 'everySeconds'>,
  now: Date,
): Promise<void> {
  await Feed.query(knex)
    .findById(list)
    .patch({ nextAt: later(now, everySeconds) });
}

/** This many seconds after `now`. */
export const later = (now: Date, seconds: number): Date => new Date(now.getTime() + seconds * 1000);
