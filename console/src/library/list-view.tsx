import { Link } from 'react-router';
import { useFetched } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { HistoryLink } from '../history/history-link.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';
import { EntriesPart } from './entries-part.js';
import { entriesText } from './entries-text.js';
import { FeedPart } from './feed-part.js';
import { ListText } from './list-text.js';
import { ObjectFindings } from './object-findings.js';
import { Remove } from './object-view.js';
import { OverlapPart } from './overlap-part.js';
import { PasteEntries } from './paste-entries.js';

/** One list: what is in it, who uses it, and ways to change it that need not open it as a whole. */
export function ListView({ name }: { readonly name: string }) {
  const list = useFetched('GET /lists/:name', { params: { name }, query: { text: false } });
  const mayEdit = useMay('editor');
  if (list.error && !list.data) return <ErrorMessage error={list.error} />;
  if (!list.data) return <Waiting what="the list" />;
  const { of, entries, expired, include, users, addresses, version, changedBy, changedAt } = list.data;
  return (
    <>
      <div className="mb-1 flex flex-wrap items-baseline gap-3">
        <h2 className="font-mono text-page font-semibold">{name}</h2>
        <span className="text-soft">
          {entriesText(entries, of)}
          {expired > 0 && `, ${count(expired)} expired`}
          {addresses !== null && `, which cover ${BigInt(addresses).toLocaleString('en')} addresses`}; version {version}
          {changedBy && ` by ${changedBy}`}, {clock(changedAt).slice(0, 16)}
        </span>
        <HistoryLink kind="list" name={name} />
        {mayEdit && <Remove kind="list" name={name} version={version} back="/library/list" />}
      </div>
      <ObjectFindings kind="list" name={name} />
      {include.length > 0 && (
        <p>
          Includes{' '}
          {include.map((each) => (
            <Link key={each} to={`/library/list/${each}`} className="mr-2 font-mono text-iris hover:underline">
              {each}
            </Link>
          ))}
        </p>
      )}
      <Part title="Who uses it">
        {users.length === 0 && <p className="text-soft">Nothing does.</p>}
        {users.map(({ policy, rule, through }) => (
          <p key={`${policy} ${rule} ${through.join()}`}>
            <Link
              to={`/policies/${policy}${rule === null ? '' : `?rule=${rule}`}`}
              className="font-mono text-iris hover:underline"
            >
              {policy}
              {rule !== null && ` / ${rule}`}
            </Link>{' '}
            {rule === null && 'covers or trusts by it '}
            {through.length > 0 && <span className="text-soft">through {through.join(', ')}</span>}
          </p>
        ))}
      </Part>
      <FeedPart list={name} of={of} />
      <EntriesPart name={name} mayEdit={mayEdit} />
      <OverlapPart name={name} of={of} />
      {mayEdit && <PasteEntries name={name} of={of} />}
      {mayEdit && <ListText name={name} entries={entries} />}
    </>
  );
}
