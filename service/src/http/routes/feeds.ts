import type { FeedBody } from '@jade-fence/contract';
import { mayAct, type Role } from '@jade-fence/contract';
import type { Knex } from 'knex';
import { noting } from '../../audit/audit.js';
import { refusal } from '../../fault/refusal.js';
import type { FeedClock } from '../../feed/clock.js';
import { findFeed, later, pageOfFeeds, postpone, saveFeed } from '../../feed/store.js';
import { Feed } from '../../model/feed.js';
import type { Api } from '../api.js';
import { FeedInput } from '../input/feed-input.js';
import { MappingName } from '../input/log-input.js';
import { NamedPageQuery } from '../input/page-query.js';
import { validated } from '../validate.js';

/** Whoever sets a feed mostly has it fetched at once; if not, it is so soon. */
const FIRST_SECONDS = 60;

/** Lists that others keep, fetched from them from time to time. */
export function feedRoutes(api: Api, knex: Knex, feeds: FeedClock): void {
  api.add(
    'GET /feeds',
    { does: 'Where lists are fetched from, by their names.', query: NamedPageQuery },
    async ({ query }, response) => {
      const { items, next } = await pageOfFeeds(knex, query);
      response.json({ feeds: items.map(feedBody), folder: feeds.folder, next });
    },
  );

  api.add('GET /feeds/:list', { does: 'Where one list is fetched from.' }, async ({ params }, response) => {
    response.json(feedBody(await findFeed(knex, params.list)));
  });

  api.add(
    'PUT /feeds/:list',
    { does: 'Has a list fetched from time to time, in place of what it holds.', body: FeedInput },
    async ({ params, body, who }, response) => {
      const { name: list } = validated(MappingName, { name: params.list }, 'path') as { name: string };
      const need = (wanted: boolean, role: Role, what: string) => {
        if (wanted && !mayAct(who.role, role)) throw refusal('role-too-low/feeds', { what, role });
      };
      need(body.allowPrivate, 'administrator', 'A feed from private address space');
      need(body.publish, 'publisher', 'A feed that publishes');
      const { of: sort, source, every: everySeconds, allowPrivate, publish } = body;
      const feed = {
        list,
        sort,
        source,
        everySeconds,
        allowPrivate,
        publish,
        madeBy: who.name,
        nextAt: later(new Date(), FIRST_SECONDS),
      };
      const deed = {
        actor: who.name,
        action: 'feed-set',
        kind: 'list',
        name: list,
        detail: { source, every: everySeconds, publish, allowPrivate },
      } as const;
      response.json(feedBody(await noting(knex, deed, (trx) => saveFeed(trx, feed))));
    },
  );

  api.add(
    'DELETE /feeds/:list',
    { does: 'Ends the fetching of a list, which keeps what it holds.', status: 204 },
    async ({ params, who }, response) => {
      const { list } = await findFeed(knex, params.list);
      const deed = { actor: who.name, action: 'feed-deleted', kind: 'list', name: list } as const;
      await noting(knex, deed, async (trx) => await Feed.query(trx).deleteById(list));
      response.status(204).end();
    },
  );

  api.add('POST /feeds/:list/refresh', { does: 'Fetches a list now.' }, async ({ params }, response) => {
    const feed = await findFeed(knex, params.list);
    await postpone(knex, feed, new Date());
    await feeds.refresh(feed);
    response.json(feedBody(await findFeed(knex, feed.list)));
  });
}

function feedBody(feed: Feed): FeedBody {
  const { list, sort: of, source, everySeconds: every, allowPrivate, publish, madeBy, last } = feed;
  const [nextAt, goodAt] = [feed.nextAt.toISOString(), feed.goodAt?.toISOString() ?? null];
  return { list, of, source, every, allowPrivate, publish, madeBy, nextAt, goodAt, last };
}
