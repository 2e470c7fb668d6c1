import { call } from '../api/call.js';
import { useDeed, useWhole } from '../api/fetching.js';
import { Button } from '../frame/button.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';

/** One's own browsers that are signed in, and how to end that. */
export function Sessions() {
  const sessions = useWhole('GET /me/sessions');
  const end = useDeed((id: number) => call('DELETE /me/sessions/:id', { params: { id } }));
  const endAll = useDeed(() => call('DELETE /me/sessions'));
  const error = sessions.error ?? end.error ?? endAll.error;
  return (
    <Part title="Where you are signed in">
      {error && <ErrorMessage error={error} />}
      <Table
        label="Sessions"
        columns={['from', 'browser', 'since', 'used last', '']}
        rows={sessions.data?.sessions.map((session) => ({
          key: session.session,
          cells: [
            session.from,
            <span key="b" className="block max-w-72 truncate" title={session.agent}>
              {session.agent}
            </span>,
            clock(session.openedAt).slice(0, 16),
            clock(session.usedAt).slice(0, 16),
            <Button key="x" onClick={() => end.mutate(session.session)}>
              End
            </Button>,
          ],
        }))}
      />
      <div className="mt-2">
        <Button onClick={() => endAll.mutate(undefined, { onSuccess: () => location.reload() })}>
          Sign out everywhere
        </Button>
      </div>
    </Part>
  );
}
