import type { VersionBody } from '@jade-fence/contract';
import { useQuery } from '@tanstack/react-query';
import { Link, useSearchParams } from 'react-router';
import { CallError, call } from '../api/call.js';
import { useDeed, useFetched, useWhole } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { pathTo } from '../draft/differences.js';
import { AskButton } from '../frame/ask-button.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';
import { DifferingLines } from './differing-lines.js';

interface Named {
  readonly kind: string;
  readonly name: string;
}

/** Every version that one object had: opened, compared with another, and brought back into the draft. */
export function ObjectHistory({ kind, name }: Named) {
  const [search, setSearch] = useSearchParams();
  const params = { kind, name };
  const versions = useWhole('GET /objects/:kind/:name/versions', { params });
  const now = useFetched('GET /objects/:kind/:name', { params });
  const mayEdit = useMay('editor');
  if (versions.error && !versions.data) return <ErrorMessage error={versions.error} />;
  if (!versions.data) return <Waiting what="the history" />;
  const all = versions.data.versions;
  const open = Number(search.get('version') ?? all[0]?.version ?? 0);
  const compared = Number(search.get('with') ?? 0);
  const set = (version: number, other: number) =>
    setSearch({ version: String(version), ...(other > 0 && { with: String(other) }) }, { replace: true });
  return (
    <Page
      title={`History of ${name}`}
      about={`Every version that the ${kind} had.`}
      acts={
        <Link to={pathTo(kind, name)} className="text-iris hover:underline">
          The {kind} as it is
        </Link>
      }
    >
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(22rem,2fr)_minmax(24rem,3fr)] items-start gap-8">
        <Table
          label="Versions"
          columns={[{ title: 'version', right: true }, 'changed', 'by', 'in revisions']}
          rows={all.map((each) => ({
            key: each.version,
            tone: each.version === open ? 'bg-chosen' : '',
            cells: [
              <Link
                key="open"
                to={`?version=${each.version}`}
                aria-current={each.version === open || undefined}
                className="text-iris hover:underline"
              >
                <span className="sr-only">Version </span>
                {each.version}
              </Link>,
              clock(each.changedAt).slice(0, 16),
              each.changedBy ?? '–',
              each.revisions.length === 0 ? 'none' : each.revisions.join(', '),
            ],
          }))}
        />
        {open > 0 && (
          <Part
            title={`Version ${open}`}
            acts={
              <>
                <Choice
                  label="compared with"
                  value={compared}
                  options={[
                    { value: 0, label: 'none' },
                    ...all
                      .filter(({ version }) => version !== open)
                      .map(({ version }) => ({ value: version, label: `version ${version}` })),
                  ]}
                  onChange={(next) => set(open, next)}
                />
                {mayEdit && !now.isPending && now.data?.version !== open && <Restore {...params} version={open} />}
              </>
            }
          >
            <Version {...params} version={open} compared={compared} />
          </Part>
        )}
      </div>
    </Page>
  );
}

interface VersionProps extends Named {
  readonly version: number;
  /** The number of another; 0: none. */
  readonly compared: number;
}

function Version({ kind, name, version, compared }: VersionProps) {
  const own = useFetched('GET /objects/:kind/:name/versions/:number', { params: { kind, name, number: version } });
  const other = useFetched(
    'GET /objects/:kind/:name/versions/:number',
    compared > 0 && { params: { kind, name, number: compared } },
  );
  const [before, after] = compared > version ? [own.data, other.data] : [other.data, own.data];
  const lines = useQuery({
    queryKey: ['lines', kind, name, Math.min(version, compared), Math.max(version, compared)],
    queryFn: async () => {
      const { textDifference } = await import('@jade-fence/core/difference');
      return textDifference(name, before?.text, after?.text);
    },
    enabled: compared > 0 && before !== undefined && after !== undefined,
  });
  if (own.error) return <ErrorMessage error={own.error} />;
  if (!own.data) return <Waiting what="the version" />;
  if (compared === 0) return <Text text={own.data.text} />;
  if (other.error) return <ErrorMessage error={other.error} />;
  if (lines.data === undefined) return <Waiting what="the difference" />;
  if (lines.data === null) return <p className="text-soft">Too many lines differ to show them beside each other.</p>;
  return lines.data === '' ? (
    <p className="text-soft">Both say the same.</p>
  ) : (
    <>
      <p className="mb-1 text-soft">
        What is new in version {Math.max(version, compared)} is marked with +, what is gone from version{' '}
        {Math.min(version, compared)} with −.
      </p>
      <DifferingLines text={lines.data} />
    </>
  );
}

/** Longer texts, such as of lists of a million entries, are shown by their beginning. */
const MOST_SHOWN = 200_000;

function Text({ text }: { readonly text: string }) {
  return (
    <>
      <pre className="overflow-auto border border-line bg-sheet p-2 font-mono">{text.slice(0, MOST_SHOWN)}</pre>
      {text.length > MOST_SHOWN && (
        <p className="text-soft">It goes on for {count(text.length - MOST_SHOWN)} letters.</p>
      )}
    </>
  );
}

/** Makes a version the draft's again, also of an object that was deleted since. */
function Restore({ kind, name, version }: Named & Pick<VersionBody, 'version'>) {
  const restore = useDeed(async () => {
    const params = { kind, name };
    const { text } = await call('GET /objects/:kind/:name/versions/:number', {
      params: { ...params, number: version },
    });
    const now = await call('GET /objects/:kind/:name', { params }).catch((error) => {
      if (error instanceof CallError && error.status === 404) return undefined;
      throw error;
    });
    return call('PUT /objects/:kind/:name', { params, version: now?.version ?? 'absent', body: { text } });
  });
  return (
    <>
      <AskButton
        consequence={`The draft has the ${kind} as it was in version ${version}, as a new version. Nothing is published yet.`}
        does={`Restore version ${version}`}
        onConfirm={() => restore.mutate(undefined)}
      >
        Restore
      </AskButton>
      {restore.error && <ErrorMessage error={restore.error} />}
    </>
  );
}
