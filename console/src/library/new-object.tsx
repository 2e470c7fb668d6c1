import { useState } from 'react';
import { useNavigate } from 'react-router';
import { TextEditor } from './text-editor.js';

/** What one begins with. */
const TEMPLATES: Readonly<Record<string, string>> = {
  list: 'list: new-list\nof: addresses\nentries:\n  - 198.51.100.10\n',
  category: 'category: new-category\nnote: What belongs to it\ndomains: [.name.example]\n',
  application: 'application: new-application\nwhen: {host: [.name.example], scheme: https}\nrisk: 2\nneeds: []\n',
  schedule: 'schedule: new-schedule\nzone: Europe/Lisbon\nweekly: {mon-fri: ["09:00-12:00", "14:00-18:00"]}\n',
  notice:
    'notice: new-notice\nstatus: 403\ntitle: This page is not open here\ntext: The rule {rule} says so.\ncontact: gate@fennelhill.example\n',
  probe: 'probe: new-probe\nclient: 10.40.3.7\n',
  check:
    'check: new-check\ndestinations:\n  tickets: https://tickets.fennelhill.example/\nexpect:\n  lisbon-reader: {tickets: allow}\n',
  corrections: 'corrections: new-corrections\nnetworks:\n  203.0.113.0/24: PT\n',
};

/** A new object, written as text from a template. */
export function NewObject({ kind }: { readonly kind: string }) {
  const [text, setText] = useState(TEMPLATES[kind] ?? '');
  const navigate = useNavigate();
  const name = new RegExp(`^${kind}: *([a-z0-9-]+)`, 'm').exec(text)?.[1];
  return (
    <>
      <h2 className="mb-2 text-head font-semibold">A new {kind}</h2>
      <TextEditor
        kind={kind}
        name={name ?? ''}
        version={undefined}
        text={text}
        onChange={setText}
        onStored={(stored) => navigate(`/library/${kind}/${stored}`)}
      />
    </>
  );
}
