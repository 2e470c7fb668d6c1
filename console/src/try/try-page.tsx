import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import type { NoticeBody } from '@jade-fence/contract';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { Link, useSearchParams } from 'react-router';
import { parse } from 'yaml';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { useWorkspace } from '../api/queries.js';
import { Story } from '../explanation/explanation-panel.js';
import { Choice } from '../frame/choice.js';
import { TextArea, TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { Page } from '../frame/page.js';
import { useSearch } from '../frame/search.js';
import { NoticeView } from '../library/notice-view.js';
import { linesWithoutHeader, requestOf, type Typed } from './request-of.js';

const STATES = [
  { value: 'draft', label: 'the draft' },
  { value: 'published', label: 'what is published' },
];
const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS', 'CONNECT'];

/** A client and a destination, and the decision for them, as one types. All of it is in the address. */
export default function TryPage() {
  const [, setSearch] = useSearchParams();
  const { get, set } = useSearch();
  const workspace = useWorkspace().data;
  const given = {
    client: get('client'),
    url: get('url'),
    method: get('method') || 'GET',
    agent: get('agent'),
    user: get('user'),
    groups: get('groups'),
    time: get('time'),
    destination: get('destination'),
    forwarded: get('forwarded'),
    headers: get('headers'),
  };
  const asked = useDeferredValue(JSON.stringify({ ...given, state: get('state') || 'draft' }));
  const answer = useQuery({
    queryKey: ['tried', asked],
    queryFn: () => {
      const { state, ...fields } = JSON.parse(asked) as typeof given & { state: string };
      return call('POST /explanations', { body: { request: requestOf(fields), state } });
    },
    enabled: given.url !== '',
    placeholderData: keepPreviousData,
    retry: false,
  });
  const probe = useDeed(async (name: string) => {
    const { text } = await call('GET /objects/:kind/:name', { params: { kind: 'probe', name } });
    const asked = ofProbe((parse(text) ?? {}) as Probe);
    setSearch((before) => new URLSearchParams(Object.entries({ ...Object.fromEntries(before), ...asked })));
  });
  const probes = workspace?.objects.filter(({ kind }) => kind === 'probe') ?? [];
  const explanation = answer.data?.explanation;
  return (
    <Page
      title="Try"
      about="A client and a destination: what would become of it, and why"
      acts={
        <Link
          to={`/effective${given.client === '' ? '' : `?of=${encodeURIComponent(given.client)}`}`}
          className="text-iris hover:underline"
        >
          All that this client can meet
        </Link>
      }
    >
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(18rem,1fr)_minmax(24rem,2fr)] gap-8">
        <form className="space-y-2" onSubmit={(event) => event.preventDefault()}>
          <TextField
            label="Client’s address"
            wide
            value={given.client}
            placeholder="198.18.97.3"
            onChange={(value) => set('client', value)}
          />
          {probes.length > 0 && (
            <p className="flex flex-wrap gap-1">
              <span className="text-soft">As a probe:</span>
              {probes.map(({ name, sentence }) => (
                <button
                  key={name}
                  type="button"
                  title={sentence}
                  onClick={() => probe.mutate(name)}
                  className="cursor-pointer rounded-sm border border-edge px-1.5 font-mono hover:border-iris"
                >
                  {name}
                </button>
              ))}
            </p>
          )}
          <TextField
            label="URL, or host:port of a tunnel"
            wide
            value={given.url}
            placeholder="https://tickets.fennelhill.example/whats-on"
            onChange={(value) => set('url', value)}
          />
          <Choice
            label="Method"
            value={given.method}
            options={METHODS.map((value) => ({ value, label: value }))}
            onChange={(value) => set('method', value)}
          />
          <TextField
            label="Agent"
            wide
            value={given.agent}
            placeholder="Meadowlark/12.1 (phone)"
            onChange={(value) => set('agent', value)}
          />
          <TextField
            label="User"
            wide
            value={given.user}
            placeholder="ines.baltazar"
            onChange={(value) => set('user', value)}
          />
          <TextField
            label="Time, such as a Sunday’s; empty: now"
            wide
            value={given.time}
            placeholder="2026-11-15T03:00:00Z"
            onChange={(value) => set('time', value)}
          />
          <More {...{ given, set }} />
          <Choice
            label="By"
            value={get('state') || 'draft'}
            options={STATES}
            onChange={(value) => set('state', value)}
          />
        </form>
        <section aria-label="Answer" aria-live="polite">
          {given.url === '' && <p className="text-soft">Write a URL, and the answer appears here as you type.</p>}
          {answer.error && <ErrorMessage error={answer.error} />}
          {given.url !== '' && answer.data && explanation === null && (
            <p>No policy covers this request, so it has no verdict, and is let through.</p>
          )}
          {given.url !== '' && explanation && <Story explanation={explanation} />}
          {given.url !== '' && answer.data && explanation && explanation.effect !== 'allow' && (
            <Shown notice={answer.data.notice} verdict={explanation.verdict} />
          )}
        </section>
      </div>
    </Page>
  );
}

interface MoreProps {
  readonly given: Typed;
  readonly set: (key: string, value: string) => void;
}

/** What is seldom needed; open where any of it is given. */
function More({ given, set }: MoreProps) {
  const { groups, destination, forwarded, headers } = given;
  const wrong = linesWithoutHeader(headers);
  return (
    <Disclosure defaultOpen={[groups, destination, forwarded, headers].some((each) => each !== '')}>
      <DisclosureButton className="cursor-pointer text-iris hover:underline">
        Proxies, headers, groups, destination
      </DisclosureButton>
      <DisclosurePanel className="space-y-2">
        <TextField
          label="X-Forwarded-For"
          wide
          value={forwarded}
          placeholder="198.18.97.3, 10.10.1.9"
          onChange={(value) => set('forwarded', value)}
        />
        <TextArea
          label="Other headers, a line each"
          rows={3}
          value={headers}
          onChange={(value) => set('headers', value)}
          hint={wrong.length > 0 && `No header: ${wrong.join(', ')}. Write it as Name: value.`}
        />
        <TextField
          label="Groups, parted by commas"
          wide
          value={groups}
          placeholder="curators"
          onChange={(value) => set('groups', value)}
        />
        <TextField
          label="Address of the destination"
          wide
          value={destination}
          placeholder="203.0.113.9"
          onChange={(value) => set('destination', value)}
        />
      </DisclosurePanel>
    </Disclosure>
  );
}

/** A probe as it is written. */
type Probe = Readonly<Record<string, string | readonly string[] | Readonly<Record<string, unknown>>>>;

/** What a probe gives of a request, as it would be typed; what it does not give is taken out. */
function ofProbe(probe: Probe): Record<string, string> {
  const text = (key: string) => (typeof probe[key] === 'string' ? (probe[key] as string) : '');
  const headers = Object.entries((probe.headers ?? {}) as Readonly<Record<string, unknown>>);
  return {
    ...{ client: text('client'), agent: text('agent'), user: text('user') },
    groups: Array.isArray(probe.groups) ? probe.groups.join(', ') : '',
    headers: headers.map(([name, value]) => `${name}: ${value}`).join('\n'),
  };
}

/** What the client of a stopped request would see. */
function Shown({ notice, verdict }: { readonly notice: NoticeBody | null; readonly verdict: string }) {
  if (notice) return <NoticeView notice={notice} of="its reference is made up" />;
  return verdict === 'redirect' ? null : <p className="text-soft">The client gets no more than the status.</p>;
}
