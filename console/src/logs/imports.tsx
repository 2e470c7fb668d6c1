import type { ImportBody } from '@jade-fence/contract';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { isUnderWay } from '../api/progress.js';
import { useImports } from '../api/queries.js';
import { Button } from '../frame/button.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { readingText } from './sending.js';

/** The logs that are on their way, whoever sent them, and those that came to nothing lately; nothing where there are none. */
export function Imports({ mayEdit }: { readonly mayEdit: boolean }) {
  const imports = (useImports().data?.imports ?? []).filter((job) => isUnderWay(job) || failedLately(job));
  const cancel = useDeed((id: number) => call('POST /imports/:id/cancel', { params: { id } }));
  if (imports.length === 0) return null;
  return (
    <Part title={imports.some(isUnderWay) ? 'On their way' : 'Came to nothing lately'}>
      {cancel.error && <ErrorMessage error={cancel.error} />}
      <Table
        label="Imports"
        columns={['number', 'log', 'how far', 'sent by', 'begun', '']}
        rows={imports.map((job) => ({
          key: job.id,
          cells: [
            `#${job.id}`,
            <code key="l" className="font-mono">
              {job.log}
            </code>,
            job.failure ? `failed: ${job.failure.detail}` : readingText(job),
            job.actor,
            clock(job.startedAt),
            mayEdit && isUnderWay(job) && (
              <Button key="c" onClick={() => cancel.mutate(job.id)}>
                Cancel #{job.id}
              </Button>
            ),
          ],
        }))}
      />
    </Part>
  );
}

const LATELY_MS = 24 * 60 * 60 * 1000;

const failedLately = ({ state, startedAt }: ImportBody): boolean =>
  state === 'failed' && Date.now() - Date.parse(startedAt) < LATELY_MS;
