import { Link, useNavigate } from 'react-router';
import { call } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { useWorkspace } from '../api/queries.js';
import { useMay } from '../api/session.js';
import { AskButton } from '../frame/ask-button.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { HistoryLink } from '../history/history-link.js';
import { clock } from '../marks/clock.js';
import { CodeText } from '../marks/code-text.js';
import { AllowApplication } from './allow-application.js';
import { CorrectionsMap } from './corrections-map.js';
import { EditedObject } from './edited-object.js';
import { NoticePreview } from './notice-view.js';
import { ObjectFindings } from './object-findings.js';
import { WeekView } from './week-view.js';

/** One object: what it says, how it looks, its text, and the states that it had. */
export function ObjectView({ kind, name }: { readonly kind: string; readonly name: string }) {
  const stored = useFetched('GET /objects/:kind/:name', { params: { kind, name } });
  const sentence = useWorkspace().data?.objects.find((each) => each.kind === kind && each.name === name)?.sentence;
  const mayEdit = useMay('editor');
  if (stored.error && !stored.data) return <ErrorMessage error={stored.error} />;
  if (!stored.data) return <Waiting what={`the ${kind}`} />;
  return (
    <>
      <div className="mb-2 flex flex-wrap items-baseline gap-3">
        <h2 className="font-mono text-page font-semibold">{name}</h2>
        <span className="text-soft">
          {kind}, version {stored.data.version}
          {stored.data.changedBy && ` by ${stored.data.changedBy}`}, {clock(stored.data.changedAt).slice(0, 16)}
        </span>
        <HistoryLink {...{ kind, name }} />
        {mayEdit && <Remove {...{ kind, name }} version={stored.data.version} back={`/library/${kind}`} />}
      </div>
      {/* Who edits reads what the text says as it is typed, below. */}
      {sentence && !mayEdit && (
        <p className="mb-3">
          <CodeText text={sentence} />
        </p>
      )}
      <ObjectFindings kind={kind} name={name} />
      {kind === 'corrections' && <CorrectionsMap text={stored.data.text} />}
      {kind === 'schedule' && !mayEdit && <WeekView text={stored.data.text} />}
      {kind === 'notice' && !mayEdit && <NoticePreview notice={name} />}
      {kind === 'application' && mayEdit && <AllowApplication application={name} />}
      {USED.includes(kind) && <Users {...{ kind, name }} />}
      <EditedObject kind={kind} name={name} stored={stored.data} mayEdit={mayEdit} />
    </>
  );
}

/** What may be named by others. */
const USED = ['category', 'application', 'schedule', 'notice', 'probe'];

/** An object, by its kind and name. */
interface Named {
  readonly kind: string;
  readonly name: string;
}

function Users({ kind: of, name: named }: Named) {
  const found = useFetched('GET /objects/:kind/:name/users', { params: { kind: of, name: named } });
  const users = found.data?.users;
  if (!users) return null;
  return (
    <Part title="Who uses it">
      {users.length === 0 && <p className="text-soft">Nothing does.</p>}
      <p className="flex flex-wrap gap-x-4">
        {users.map(({ kind, name, rule }) => (
          <Link
            key={`${kind} ${name} ${rule}`}
            to={rule === null ? `/library/${kind}/${name}` : `/policies/${name}?rule=${rule}`}
            className="font-mono text-iris hover:underline"
          >
            {name}
            {rule !== null && ` / ${rule}`}
          </Link>
        ))}
      </p>
    </Part>
  );
}

interface RemoveProps extends Named {
  readonly version: number;
  readonly back: string;
}

export function Remove({ kind, name, version, back }: RemoveProps) {
  const navigate = useNavigate();
  const remove = useDeed(() => call('DELETE /objects/:kind/:name', { params: { kind, name }, version }));
  return (
    <span className="ml-auto">
      <AskButton
        consequence="It is gone from the draft. What is published keeps it until the next publish, and a revision brings it back."
        does="Delete it"
        onConfirm={() => remove.mutate(undefined, { onSuccess: () => navigate(back) })}
      >
        Delete
      </AskButton>
      {remove.error && <ErrorMessage error={remove.error} />}
    </span>
  );
}
