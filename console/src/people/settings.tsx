import type { SettingsChange } from '@jade-fence/contract';
import { useState } from 'react';
import { call } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { Command, ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Tick } from '../frame/tick.js';
import { wordsIn } from '../frame/words.js';

/** What administrators chose for the service. */
export function Settings({ mayChange }: { readonly mayChange: boolean }) {
  const settings = useFetched('GET /settings');
  const [url, setUrl] = useState<string>();
  const [servers, setServers] = useState<string>();
  const [domains, setDomains] = useState<string>();
  const change = useDeed((what: SettingsChange) => call('PATCH /settings', { body: what }));
  const secret = useDeed(() => call('GET /settings/alert-secret'));
  if (!settings.data) return null;
  const { fourEyes, alertUrl, alertPrivate, dnsServers, dnsOwnDomains, dnsPrivateNames } = settings.data;
  const error = change.error ?? secret.error;
  return (
    <Part title="Settings">
      {error && <ErrorMessage error={error} />}
      <Tick checked={fourEyes} disabled={!mayChange} onChange={(next) => change.mutate({ fourEyes: next })}>
        What one person wants to publish is published by another
      </Tick>
      <form
        className="mt-4 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ alertUrl: url ?? alertUrl ?? '' });
        }}
      >
        <TextField
          label="Where alerts are sent"
          value={url ?? alertUrl ?? ''}
          onChange={setUrl}
          placeholder="https://alerts.fennelhill.example/gate"
        />
        {mayChange && <Button type="submit">Set</Button>}
        {mayChange && <Button onClick={() => secret.mutate()}>Show the secret they are signed with</Button>}
      </form>
      <div className="mt-4">
        <Tick checked={alertPrivate} disabled={!mayChange} onChange={(next) => change.mutate({ alertPrivate: next })}>
          That address may be in private address space
        </Tick>
      </div>
      <form
        className="mt-4 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({
            dnsServers: servers === undefined ? dnsServers : wordsIn(servers),
            dnsOwnDomains: domains === undefined ? dnsOwnDomains : wordsIn(domains),
          });
        }}
      >
        <TextField
          label="DNS servers that hosts are looked up by"
          value={servers ?? dnsServers.join(' ')}
          onChange={setServers}
          placeholder="10.40.0.53"
        />
        <TextField
          label="Domains of your own"
          value={domains ?? dnsOwnDomains.join(' ')}
          onChange={setDomains}
          placeholder="fennelhill.example"
        />
        {mayChange && <Button type="submit">Set</Button>}
      </form>
      <div className="mt-2">
        <Tick
          checked={dnsPrivateNames}
          disabled={!mayChange}
          onChange={(next) => change.mutate({ dnsPrivateNames: next })}
        >
          Names of private networks and of your own domains may be sent to servers outside
        </Tick>
      </div>
      {secret.data && (
        <div role="status">
          <Command text={secret.data.secret} />
        </div>
      )}
    </Part>
  );
}
