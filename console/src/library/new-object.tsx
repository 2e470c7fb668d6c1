import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { useWorkspace } from '../api/queries.js';
import { TextEditor } from './text-editor.js';

/** What one begins with, where the workspace has these probes. Names and addresses are those kept for examples. */
function templateOf(kind: string, probe: string | undefined): string {
  switch (kind) {
    case 'list':
      return 'list: new-list\nof: addresses\nentries:\n  - 198.51.100.10\n';
    case 'category':
      return 'category: new-category\nnote: What belongs to it\ndomains: [.name.example]\n';
    case 'application':
      return 'application: new-application\nwhen: {host: [.name.example], scheme: https}\nrisk: 2\nneeds: []\n';
    case 'schedule':
      return `schedule: new-schedule\nzone: ${zoneHere()}\nweekly: {mon-fri: ["09:00-17:00"]}\n`;
    case 'notice':
      return 'notice: new-notice\nstatus: 403\ntitle: This page is not open here\ntext: The rule {rule} says so. Tell us {request} if you ask.\ncontact: help@name.example\n';
    case 'probe':
      return 'probe: new-probe\nclient: 198.51.100.10\n';
    case 'check':
      return `check: new-check\ndestinations:\n  start-page: https://www.name.example/\nexpect:\n  ${probe ?? 'new-probe'}: {start-page: allow}\n`;
    case 'corrections':
      return 'corrections: new-corrections\nnetworks:\n  198.51.100.0/24: private\n';
    default:
      return '';
  }
}

/** The time zone of whoever sits here. */
const zoneHere = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone;

/** A new object, written as text from a template. */
export function NewObject({ kind }: { readonly kind: string }) {
  const probe = useWorkspace().data?.objects.find((each) => each.kind === 'probe')?.name;
  const [typed, setText] = useState<string>();
  const text = typed ?? templateOf(kind, probe);
  const navigate = useNavigate();
  const name = new RegExp(`^${kind}: *([a-z0-9-]+)`, 'm').exec(text)?.[1];
  const store = useDeed(() =>
    call('PUT /objects/:kind/:name', { params: { kind, name: name ?? '' }, body: { text }, version: 'absent' }),
  );
  return (
    <>
      <h2 className="mb-2 text-head font-semibold">A new {kind}</h2>
      <TextEditor
        kind={kind}
        name={name ?? ''}
        isNew
        text={text}
        onChange={setText}
        onStore={() => store.mutate(undefined, { onSuccess: (stored) => navigate(`/library/${kind}/${stored.name}`) })}
        isStoring={store.isPending}
        error={store.error}
      />
    </>
  );
}
