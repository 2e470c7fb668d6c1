import { useState } from 'react';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { Command, ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';

/** How a first gateway comes to ask here: its token, and a request to try it with. */
export function ConnectGateway() {
  const [name, setName] = useState('front-gate');
  const mayMake = useMay('administrator');
  const make = useDeed(() => call('POST /tokens', { body: { name, kind: 'gateway' } }));
  const secret = make.data?.secret;
  return (
    <Part title="Connect a gateway">
      <ol className="max-w-2xl list-decimal space-y-3 pl-5">
        <li>
          A gateway is the web server or proxy in front of your sites. It asks with a token that opens nothing else.
          {mayMake && !secret && (
            <form
              className="mt-1 flex flex-wrap items-end gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                make.mutate(undefined);
              }}
            >
              <TextField label="Name of the gateway" required value={name} onChange={setName} />
              <Button type="submit" main disabled={make.isPending}>
                Make its token
              </Button>
            </form>
          )}
          {!mayMake && <p className="text-soft">An administrator makes it.</p>}
          {make.error && <ErrorMessage error={make.error} />}
          {secret && (
            <div role="status" className="mt-1 border-l-2 border-iris bg-iris-wash px-2 py-1">
              Its token, shown only once:
              <Command text={secret} />
            </div>
          )}
        </li>
        <li>
          Ask once by hand, at the address for gateways that the service prints when it starts:
          <Command
            text={`curl -H "Authorization: Bearer ${secret ?? 'TOKEN'}" -H "Content-Type: application/json" -d '{"peer": "198.51.100.10", "host": "tickets.fennelhill.example", "path": "/"}' http://127.0.0.1:7441/decide`}
          />
        </li>
        <li>
          Then have the gateway ask: <code className="font-mono">docs/gateways.md</code> has whole configurations. What
          it asks shows here as it comes.
        </li>
      </ol>
    </Part>
  );
}
