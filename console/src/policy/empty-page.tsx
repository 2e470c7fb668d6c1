import { useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { Command, ErrorMessage, Message } from '../frame/message.js';

/** A workspace without a policy. */
export function EmptyPage() {
  const [name, setName] = useState('');
  const navigate = useNavigate();
  const mayEdit = useMay('editor');
  const make = useDeed((policy: string) =>
    call('PUT /objects/:kind/:name', {
      params: { kind: 'policy', name: policy },
      body: { text: `policy: ${policy}\ndefault: allow\nrules: []\n` },
      version: 'absent',
    }),
  );
  return (
    <main>
      <Message title="The workspace is empty">
        <p>Write a policy in a file, and bring its folder into the service:</p>
        <Command text="jade-fence workspace apply FOLDER" />
        <p>This page shows it as soon as it is there.</p>
        {mayEdit && (
          <form
            className="flex items-end gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              make.mutate(name, { onSuccess: () => navigate(`/policies/${name}`) });
            }}
          >
            <TextField
              label="Or begin with an empty policy"
              value={name}
              onChange={setName}
              placeholder="visitor-web"
              required
            />
            <Button type="submit">Make it</Button>
          </form>
        )}
        {make.error && <ErrorMessage error={make.error} />}
      </Message>
    </main>
  );
}
