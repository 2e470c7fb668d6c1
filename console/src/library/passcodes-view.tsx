import { useState } from 'react';
import { call } from '../api/call.js';
import { useDeed, useWhole } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Part } from '../frame/page.js';

/** The passcodes that rules ask for, by name; what they are is never shown again. */
export function PasscodesView() {
  const stored = useWhole('GET /passcodes');
  const maySet = useMay('publisher');
  const mayEnd = useMay('administrator');
  const end = useDeed(() => call('POST /grants/end'));
  if (stored.error && !stored.data) return <ErrorMessage error={stored.error} />;
  if (!stored.data) return <Waiting what="the passcodes" />;
  return (
    <>
      <h2 className="mb-1 text-page font-semibold">Passcodes</h2>
      <p className="mb-3 max-w-2xl text-soft">
        A rule asks for one by <code className="font-mono">{'then: {unlock: {passcode: NAME, for: 1h}}'}</code>. The
        passcode itself is no part of the workspace, and is not shown again.
      </p>
      <ul className="mb-4">
        {stored.data.passcodes.map((name) => (
          <li key={name} className="border-b border-line/60 py-0.5 font-mono">
            {name}
          </li>
        ))}
        {stored.data.passcodes.length === 0 && <li className="text-soft">None is set.</li>}
      </ul>
      {maySet && <SetPasscode known={stored.data.passcodes} />}
      {mayEnd && (
        <Part title="Grants">
          <p className="mb-2 text-soft">Clients that typed a passcode, or confirmed, may go on for a time.</p>
          <AskButton
            consequence="Clients that confirmed, or typed a passcode, would have to do so again."
            does="End all grants"
            onConfirm={() => end.mutate(undefined)}
          >
            End all grants …
          </AskButton>
          {end.isSuccess && <span role="status"> All grants have ended.</span>}
          {end.error && <ErrorMessage error={end.error} />}
        </Part>
      )}
    </>
  );
}

function SetPasscode({ known }: { readonly known: readonly string[] }) {
  const [name, setName] = useState('');
  const [passcode, setPasscode] = useState('');
  const set = useDeed(() => call('PUT /passcodes/:name', { params: { name: name.trim() }, body: { passcode } }));
  return (
    <Part title="Set one">
      <form
        className="flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          set.mutate(undefined, { onSuccess: () => setPasscode('') });
        }}
      >
        <TextField
          label="Name"
          required
          placeholder="gardeners"
          list="known-passcodes"
          value={name}
          onChange={setName}
        />
        <datalist id="known-passcodes">
          {known.map((each) => (
            <option key={each} value={each} />
          ))}
        </datalist>
        <TextField
          label="Passcode"
          type="password"
          autoComplete="new-password"
          required
          value={passcode}
          onChange={setPasscode}
        />
        <Button type="submit">{known.includes(name.trim()) ? 'Set it anew' : 'Set it'}</Button>
        {set.isSuccess && <span role="status">It is set.</span>}
      </form>
      {known.includes(name.trim()) && <p className="text-soft">What was granted by the old one ends.</p>}
      {set.error && <ErrorMessage error={set.error} />}
    </Part>
  );
}
