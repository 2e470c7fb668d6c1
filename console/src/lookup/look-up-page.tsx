import type { LookUpBody } from '@jade-fence/contract';
import type { ReactNode } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useFetched } from '../api/fetching.js';
import { useLogs } from '../api/queries.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Page } from '../frame/page.js';
import { CodeText } from '../marks/code-text.js';
import { CoverHost } from './cover-host.js';
import { Answer, Remedies } from './resolution-rows.js';

/** Everything that the workspace knows of one value. */
export default function LookUpPage() {
  const [place, setPlace] = useSearchParams();
  const of = place.get('of') ?? '';
  const chosen = place.get('log') ?? undefined;
  const logs = useLogs().data?.logs;
  const log = chosen ?? logs?.[0]?.name;
  const found = useFetched('GET /look-up', of !== '' && logs !== undefined && { query: { of, log } });
  return (
    <Page title="Look-up" about={<code className="font-mono">{of}</code>}>
      {of === '' && <p className="text-soft">Type an address, a host, a URL or a user into the box above.</p>}
      {found.error && <ErrorMessage error={found.error} />}
      {of !== '' && found.isPending && <Waiting what="what is known of it" />}
      {of !== '' && found.data && <Known known={found.data} />}
      {of !== '' && found.data && (
        <Remedies known={found.data} log={log} onLog={(next) => setPlace({ of, log: next }, { replace: true })} />
      )}
    </Page>
  );
}

const WORDS = { address: 'As an address', host: 'As a host', url: 'As a URL', user: 'As a user' } as const;

function Known({ known }: { readonly known: LookUpBody }) {
  const { kind, normal, country, lists, categories, applications, inPart, policies, rules, countryData } = known;
  const names = (kindOf: string, all: readonly string[]) =>
    all.length === 0
      ? 'none'
      : all.map((name) => (
          <Link key={name} to={`/library/${kindOf}/${name}`} className="mr-3 font-mono text-iris hover:underline">
            {name}
          </Link>
        ));
  return (
    <dl className="grid sm:grid-cols-[9rem_1fr] gap-y-2">
      <Row title={WORDS[kind]}>
        <code className="font-mono">{normal}</code>
      </Row>
      {kind === 'address' && (
        <Row title="Country">
          {country ? (
            <>
              <strong>{country.name ?? country.country}</strong> <code className="font-mono">{country.country}</code>
              {country.network && `, network ${country.network}`}, by{' '}
              {country.by === 'data' && countryData
                ? `the data of ${countryData.date} from ${countryData.source}`
                : country.by === 'correction'
                  ? 'a correction'
                  : 'neither data nor correction'}
            </>
          ) : (
            'No country data is loaded, and no correction holds it.'
          )}
        </Row>
      )}
      {kind === 'address' && (
        <Row title="As a client">
          <Link
            to={`/policies?client=${encodeURIComponent(normal)}&evidence=yes`}
            className="mr-3 text-iris hover:underline"
          >
            What it did in the log, in sum
          </Link>
          <Link to={`/effective?of=${encodeURIComponent(normal)}`} className="text-iris hover:underline">
            The rules that it can meet
          </Link>
        </Row>
      )}
      {(kind === 'host' || kind === 'url') && (
        <Row title="Addresses">
          <Answer known={known} host={kind === 'host' ? normal : hostOf(normal)} />
        </Row>
      )}
      {kind === 'host' && (
        <Row title="As a destination">
          <Link to={`/policies?host=${encodeURIComponent(normal)}&evidence=yes`} className="text-iris hover:underline">
            What went there in the log, in sum
          </Link>
        </Row>
      )}
      <Row title="In lists">
        {lists.length === 0
          ? 'none'
          : lists.map(({ list, entry, through, note }) => (
              <p key={`${list} ${entry}`}>
                <Link to={`/library/list/${list}`} className="font-mono text-iris hover:underline">
                  {list}
                </Link>{' '}
                by <code className="font-mono">{entry}</code>
                {through && ` of ${through}`} {note && <span className="text-soft">({note})</span>}
              </p>
            ))}
      </Row>
      <Row title="Categories">{names('category', categories)}</Row>
      <Row title="Applications">{names('application', applications)}</Row>
      {inPart.length > 0 && (
        <Row title="By more than that">
          {inPart.map(({ kind: of, name, also }) => (
            <p key={`${of} ${name}`}>
              {of}{' '}
              <Link to={`/library/${of}/${name}`} className="font-mono text-iris hover:underline">
                {name}
              </Link>
              , by its {also.join(' and ')} too
            </p>
          ))}
        </Row>
      )}
      <Row title="Policies">
        {policies.length === 0
          ? 'none covers it'
          : policies.map(({ policy, as }) => (
              <p key={`${policy} ${as}`}>
                <Link to={`/policies/${policy}`} className="font-mono text-iris hover:underline">
                  {policy}
                </Link>{' '}
                as a {as}
              </p>
            ))}
        {kind === 'host' && policies.every(({ as }) => as !== 'host') && <CoverHost host={normal} />}
      </Row>
      <Row title="Rules">
        {rules.length === 0
          ? 'none'
          : rules.map((rule) => (
              <p key={`${rule.policy} ${rule.rule}`}>
                <Link to={`/policies/${rule.policy}?rule=${rule.rule}`} className="font-mono text-iris hover:underline">
                  {rule.policy} / {rule.rule}
                </Link>{' '}
                <CodeText text={rule.sentence} />
              </p>
            ))}
      </Row>
    </dl>
  );
}

/** The host of a URL in normal form. */
const hostOf = (url: string): string =>
  url
    .replace(/^[a-z][a-z0-9+.-]*:\/\//, '')
    .replace(/\/.*$/, '')
    .replace(/:\d+$/, '');

function Row({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <>
      <dt className="text-soft">{title}</dt>
      <dd>{children}</dd>
    </>
  );
}
