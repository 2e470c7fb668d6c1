import type { ReplayBody } from '@jade-fence/contract';
import { Link, useNavigate, useParams } from 'react-router';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { useLogs, useReplays } from '../api/queries.js';
import { useMay } from '../api/session.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { count } from '../marks/count.js';
import { Imports } from './imports.js';
import { LogView } from './log-view.js';
import { extentOfAll, Strip } from './strip.js';
import { Upload } from './upload.js';

/** The logs that are stored, ways to bring others, and the replays of them. */
export default function LogsPage() {
  const { log } = useParams();
  const logs = useLogs();
  const mayEdit = useMay('editor');
  if (logs.error && !logs.data) return <ErrorMessage error={logs.error} />;
  if (!logs.data) return <Waiting what="the logs" />;
  const extent = extentOfAll(logs.data.logs);
  return (
    <Page title="Logs" about="Requests that were, to be run against rules">
      {mayEdit && <Upload known={logs.data.logs.map(({ name }) => name)} />}
      {log !== undefined && <LogView key={log} name={log} mayEdit={mayEdit} />}
      <Imports mayEdit={mayEdit} />
      <Part title="Stored">
        <Table
          label="Logs"
          empty="None yet. Drop a file above."
          columns={[
            'log',
            'format',
            { title: 'requests', right: true },
            { title: 'unread lines', right: true },
            'from',
            'to',
            'when',
            'brought',
          ]}
          rows={logs.data.logs.map((each) => ({
            key: each.name,
            tone: each.name === log ? 'bg-chosen' : '',
            cells: [
              <Link key="n" to={`/logs/${each.name}`} className="font-mono text-iris hover:underline">
                {each.name}
              </Link>,
              each.format,
              count(each.requests),
              each.rejected === 0 ? '·' : count(each.rejected),
              each.firstTime === null ? '–' : clock(each.firstTime).slice(0, 16),
              each.lastTime === null ? '–' : clock(each.lastTime).slice(0, 16),
              each.firstTime !== null && each.lastTime !== null && extent && (
                <Strip key="w" first={each.firstTime} last={each.lastTime} extent={extent} />
              ),
              clock(each.importedAt).slice(0, 16),
            ],
          }))}
        />
      </Part>
      <Replays mayEdit={mayEdit} />
    </Page>
  );
}

function Replays({ mayEdit }: { readonly mayEdit: boolean }) {
  const replays = useReplays();
  const navigate = useNavigate();
  const cancel = useDeed((id: number) => call('POST /replays/:id/cancel', { params: { id } }));
  const remove = useDeed((id: number) => call('DELETE /replays/:id', { params: { id } }));
  const hasEnded = ({ state }: ReplayBody) => state !== 'running' && state !== 'waiting';
  return (
    <Part title="Replays">
      {(replays.error ?? remove.error) && <ErrorMessage error={(replays.error ?? remove.error) as Error} />}
      <Table
        label="Replays"
        columns={['number', 'log', 'of', 'state', { title: 'requests', right: true }, 'started', '']}
        rows={replays.data?.replays.map((replay) => ({
          key: replay.id,
          cells: [
            `#${replay.id}`,
            <code key="l" className="font-mono">
              {replay.logs.join(', ')}
            </code>,
            [replay.revision === null ? 'the draft' : `revision ${replay.revision}`, ...replay.notes].join('. '),
            replay.failure ?? replay.state,
            count(replay.total),
            clock(replay.startedAt),
            <span key="a" className="flex gap-2">
              {replay.state === 'done' && (
                <Button onClick={() => navigate(`/policies?replay=${replay.id}`)}>Look</Button>
              )}
              {mayEdit && !hasEnded(replay) && <Button onClick={() => cancel.mutate(replay.id)}>Cancel</Button>}
              {mayEdit && hasEnded(replay) && (
                <AskButton
                  consequence={`Replay ${replay.id} and its report are gone for good. The log stays, and can be replayed again.`}
                  does={`Delete replay ${replay.id}`}
                  onConfirm={() => remove.mutate(replay.id)}
                >
                  Delete #{replay.id}
                </AskButton>
              )}
            </span>,
          ],
        }))}
      />
    </Part>
  );
}
