import type { CheckedGrid } from '@jade-fence/core/checking';
import { Link } from 'react-router';
import { useFetched } from '../api/fetching.js';
import { useMay } from '../api/session.js';
import { Button } from '../frame/button.js';
import { goByRows } from '../frame/by-rows.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { useSearch } from '../frame/search.js';
import { CodeText } from '../marks/code-text.js';
import { Gate } from '../marks/gate.js';
import { MendButton } from './mend-button.js';
import { useWatch } from './use-watch.js';
import { Watched } from './watched.js';

/** How often checks are run while they are watched. */
const WATCH_MS = 3000;

const STATES = [
  { value: 'draft', label: 'the draft' },
  { value: 'published', label: 'what is published' },
];

/** Probes at destinations, and whether each gets the answer that is expected. */
export default function ChecksPage() {
  const { get, set } = useSearch();
  const state = get('state') || 'draft';
  const isWatched = get('watch') !== '';
  const every = isWatched ? { every: WATCH_MS } : {};
  const checks = useFetched('GET /checks', { query: { state } }, { keep: true, ...every });
  const seen = useWatch(checks.data, checks.dataUpdatedAt, isWatched);
  const mayEdit = useMay('editor');
  const [check, probe, destination] = get('cell').split(' ');
  return (
    <Page
      title="Checks"
      about="Who must get where, and who must not"
      acts={
        <>
          <Choice label="Of" value={state} options={STATES} onChange={(value) => set('state', value)} />
          <Button onClick={() => set('watch', isWatched ? '' : 'yes')}>{isWatched ? 'Stop watching' : 'Watch'}</Button>
          <Link to="/library/check/+" className="text-iris hover:underline">
            Write another
          </Link>
        </>
      }
    >
      {checks.error && <ErrorMessage error={checks.error} />}
      {checks.isPending && <Waiting what="the checks" />}
      {checks.data?.checks.length === 0 && (
        <p>
          There are none yet. A check names probes, destinations, and the answers that are expected:{' '}
          <Link to="/library/check/+" className="text-iris hover:underline">
            write one
          </Link>
          , or make one of a request of a replay.
        </p>
      )}
      {isWatched && <Watched seen={seen} at={checks.dataUpdatedAt} />}
      {checks.data?.checks.map((grid) => (
        <Grid
          key={grid.check}
          grid={grid}
          chosen={grid.check === check ? { probe, destination } : undefined}
          onChoose={(cell) => set('cell', `${grid.check} ${cell}`)}
          mayMend={mayEdit && state === 'draft'}
        />
      ))}
    </Page>
  );
}

interface GridProps {
  readonly grid: CheckedGrid;
  readonly chosen: { readonly probe: string | undefined; readonly destination: string | undefined } | undefined;
  readonly onChoose: (cell: string) => void;
  /** Only the draft can be mended. */
  readonly mayMend: boolean;
}

function Grid({ grid, chosen, onChoose, mayMend }: GridProps) {
  const cellOf = (probe: string, destination: string) =>
    grid.cells.find((cell) => cell.probe === probe && cell.destination === destination);
  const shown = chosen?.probe && chosen.destination ? cellOf(chosen.probe, chosen.destination) : undefined;
  return (
    <Part
      title={grid.check}
      acts={
        <span className={grid.failing > 0 ? 'text-plum' : 'text-jade'}>
          {grid.failing === 0 ? '✓ all as expected' : `✗ ${grid.failing} of ${grid.cells.length} not as expected`}
        </span>
      }
    >
      {grid.note && <p className="mb-2 text-soft">{grid.note}</p>}
      <div data-wide className="relative overflow-x-auto">
        <table aria-label={grid.check} className="text-left" onKeyDown={goByRows}>
          <thead>
            <tr>
              <td />
              {grid.destinations.map((destination) => (
                <th key={destination} scope="col" className="border-b border-line px-3 py-1 font-mono font-normal">
                  {destination}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {grid.probes.map((probe) => (
              <tr key={probe} className="border-b border-line/60">
                <th scope="row" className="py-1 pr-3 font-mono font-normal">
                  {probe}
                </th>
                {grid.destinations.map((destination) => {
                  const cell = cellOf(probe, destination);
                  return (
                    <td key={destination} className={`px-3 py-1 ${cell && !cell.holds ? 'bg-plum-wash' : ''}`}>
                      {cell ? (
                        <button
                          type="button"
                          className="cursor-pointer hover:underline"
                          onClick={() => onChoose(`${probe} ${destination}`)}
                        >
                          <span className="sr-only">
                            {probe} at {destination}, {cell.holds ? 'as expected' : 'not as expected'}:{' '}
                          </span>
                          <span aria-hidden="true">{cell.holds ? '✓' : '✗'}</span> <Gate verdict={cell.verdict} />
                          {!cell.holds && <span className="ml-1">not {cell.expected.verdict}</span>}
                        </button>
                      ) : (
                        <span className="text-soft">·</span>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {shown && (
        <div role="status" className="mt-2 max-w-3xl border-l-2 border-iris bg-iris-wash px-3 py-1.5">
          <p>
            <code className="font-mono">
              {shown.probe} at {shown.destination}
            </code>
            : <CodeText text={shown.summary} />
          </p>
          {shown.mends.map(({ what, mend }) => (
            <div key={what} className="flex flex-wrap items-center gap-2">
              <span>
                <CodeText text={what} />
              </span>
              {mend && shown.policy && mayMend && <MendButton policy={shown.policy} mend={mend} />}
            </div>
          ))}
          {shown.policy && (
            <Link
              to={`/policies/${shown.policy}?rule=${shown.rule ?? 'default'}`}
              className="text-iris hover:underline"
            >
              To the rule {shown.rule}
            </Link>
          )}
        </div>
      )}
    </Part>
  );
}
