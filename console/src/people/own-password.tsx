import { type FormEvent, useState } from 'react';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';

export function OwnPassword() {
  const [old, setOld] = useState('');
  const [password, setPassword] = useState('');
  const change = useDeed(() => call('PUT /me/password', { body: { ...(old && { old }), password } }));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    change.mutate(undefined, { onSuccess: () => setPassword('') });
  };
  return (
    <Part title="Your password">
      <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
        <TextField
          label="Until now, if there is one"
          type="password"
          autoComplete="current-password"
          value={old}
          onChange={setOld}
        />
        <TextField
          label="From now on"
          type="password"
          autoComplete="new-password"
          required
          value={password}
          onChange={setPassword}
        />
        <Button type="submit">Change it</Button>
        {change.isSuccess && <span role="status">It is changed.</span>}
      </form>
      {change.error && <ErrorMessage error={change.error} />}
    </Part>
  );
}
