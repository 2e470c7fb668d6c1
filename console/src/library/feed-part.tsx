import type { FeedBody } from '@jade-fence/contract';
import type { ListSort } from '@jade-fence/core/list';
import { useState } from 'react';
import { call } from '../api/call.js';
import { useDeed, useWhole } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Tick } from '../frame/tick.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';

interface FeedPartProps {
  readonly list: string;
  readonly of: ListSort;
}

/** Where a list is fetched from, by itself: what the last try came to, and how to have it otherwise. */
export function FeedPart({ list, of }: FeedPartProps) {
  const feeds = useWhole('GET /feeds');
  const feed = feeds.data?.feeds.find((each) => each.list === list);
  const mayEdit = useMay('editor');
  const [isOpen, setOpen] = useState(false);
  const refresh = useDeed(() => call('POST /feeds/:list/refresh', { params: { list } }));
  const remove = useDeed(() => call('DELETE /feeds/:list', { params: { list } }));
  const error = refresh.error ?? remove.error;
  if (!feeds.data || (!feed && !mayEdit)) return null;
  if (!feed && !isOpen)
    return (
      <p className="mb-4">
        <Button onClick={() => setOpen(true)}>Have it fetched from elsewhere …</Button>
      </p>
    );
  return (
    <Part
      title="Fetched from elsewhere"
      acts={
        feed &&
        mayEdit && (
          <span className="flex gap-2">
            <Button disabled={refresh.isPending} onClick={() => refresh.mutate(undefined)}>
              {refresh.isPending ? 'Fetching …' : 'Fetch it now'}
            </Button>
            {!isOpen && <Button onClick={() => setOpen(true)}>Change …</Button>}
            <AskButton
              consequence={`${list} is fetched no more. It keeps what it holds.`}
              does="Fetch it no more"
              onConfirm={() => remove.mutate(undefined)}
            >
              Fetch it no more
            </AskButton>
          </span>
        )
      }
    >
      {feed && <LastTry feed={feed} />}
      {error && <ErrorMessage error={error} />}
      {isOpen && <FeedForm {...{ list, of, feed }} folder={feeds.data.folder} onClose={() => setOpen(false)} />}
    </Part>
  );
}

function LastTry({ feed: { source, every, publish, last, goodAt } }: { readonly feed: FeedBody }) {
  return (
    <p className={last?.outcome === 'failed' ? 'border-l-2 border-ochre bg-ochre-wash px-2' : 'text-soft'}>
      <code className="font-mono">{source}</code>, {spanOf(every)}
      {publish && ', published by itself'}.{' '}
      {last ? `${clock(last.at).slice(0, 16)}: ${last.outcome}.` : 'Not fetched yet.'}
      {last && last.added + last.removed > 0 && ` ${count(last.added)} added, ${count(last.removed)} removed.`}
      {last && last.left > 0 && ` ${count(last.left)} invalid lines skipped.`}
      {last?.what && ` ${last.what}`}
      {last?.outcome === 'failed' && goodAt && ` It holds what was fetched ${clock(goodAt).slice(0, 16)}.`}
    </p>
  );
}

/** How often, in seconds, and its words. */
const SPANS = [
  { value: 900, label: 'every 15 minutes' },
  { value: 3600, label: 'every hour' },
  { value: 21_600, label: 'every 6 hours' },
  { value: 86_400, label: 'every day' },
];
const spanOf = (every: number): string =>
  SPANS.find(({ value }) => value === every)?.label ?? `every ${count(every)} seconds`;

interface FeedFormProps extends FeedPartProps {
  readonly feed: FeedBody | undefined;
  readonly folder: string;
  readonly onClose: () => void;
}

function FeedForm({ list, of, feed, folder, onClose }: FeedFormProps) {
  const [source, setSource] = useState(feed?.source ?? '');
  const [every, setEvery] = useState(feed?.every ?? 3600);
  const [publish, setPublish] = useState(feed?.publish ?? false);
  const [allowPrivate, setAllowPrivate] = useState(feed?.allowPrivate ?? false);
  const set = useDeed(async () => {
    await call('PUT /feeds/:list', { params: { list }, body: { of, source, every, publish, allowPrivate } });
    return call('POST /feeds/:list/refresh', { params: { list } });
  });
  const spans = SPANS.some(({ value }) => value === every) ? SPANS : [...SPANS, { value: every, label: spanOf(every) }];
  return (
    <form
      className="mt-2 max-w-2xl space-y-2"
      onSubmit={(event) => {
        event.preventDefault();
        set.mutate(undefined, { onSuccess: onClose });
      }}
    >
      <TextField
        label={`An address of the web, or file: and a name in ${folder}`}
        wide
        required
        placeholder="https://lists.hedgerow.example/adverts.txt"
        value={source}
        onChange={setSource}
      />
      <Choice label="Fetched" value={every} options={spans} onChange={setEvery} />
      <Tick checked={publish} onChange={setPublish}>
        Publish what changed by itself, with nothing else of the draft
      </Tick>
      <Tick checked={allowPrivate} onChange={setAllowPrivate}>
        The source may be in private address space
      </Tick>
      {set.error && <ErrorMessage error={set.error} />}
      <span className="flex gap-2">
        <Button type="submit" main disabled={set.isPending}>
          {set.isPending ? 'Fetching …' : 'Fetch it'}
        </Button>
        <Button onClick={onClose}>Close</Button>
      </span>
    </form>
  );
}
