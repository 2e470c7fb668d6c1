import type { AppliedBody } from '@jade-fence/contract';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { AskButton } from '../frame/ask-button.js';
import { FileField } from '../frame/file-field.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { CodeText } from '../marks/code-text.js';
import { counted } from '../marks/count.js';

/** Files of a workspace, such as those under version control, taken into the draft: first what they would change, then for good. */
export function BringFiles() {
  const look = useDeed(async (chosen: readonly File[]) => {
    const files = await Promise.all(chosen.map(async (file) => ({ name: file.name, text: await file.text() })));
    const { draft } = await call('GET /draft');
    return {
      files,
      draft,
      found: await call('PUT /workspace', { body: { files, draft, dryRun: true, overwrite: true } }),
    };
  });
  // Into the draft that was looked at, and no other: what the files would undo is known of that one alone.
  const take = useDeed((looked: NonNullable<typeof look.data>) =>
    call('PUT /workspace', { body: { files: looked.files, draft: looked.draft, overwrite: true } }),
  );
  const error = take.error ?? look.error;
  return (
    <Part title="From files">
      <p className="mb-1 text-soft">Documents of a workspace, as YAML. What they do not hold stays as it is.</p>
      <FileField
        label="Files"
        many
        accept=".yaml,.yml"
        onChoose={(_, all) => {
          take.reset();
          look.mutate(all);
        }}
      />
      {error && <ErrorMessage error={error} />}
      {look.data && !take.data && !look.isPending && (
        <Found
          found={look.data.found}
          of={counted(look.data.files.length, 'file', 'files')}
          onTake={() => take.mutate(look.data)}
        />
      )}
      {take.data && <p role="status">The draft has what the files say.</p>}
    </Part>
  );
}

interface FoundProps {
  readonly found: AppliedBody;
  readonly of: string;
  readonly onTake: () => void;
}

function Found({ found: { changes, overwritten }, of, onTake }: FoundProps) {
  const changing = changes.filter(({ change }) => change !== 'unchanged');
  if (changing.length === 0)
    return <p role="status">{`The draft has all that the ${of} say${of.startsWith('1 ') ? 's' : ''} already.`}</p>;
  return (
    <div className="mt-2" role="status">
      <ul aria-label="What the files would change" className="mb-2">
        {changing.map(({ kind, name, change }) => (
          <li key={`${kind} ${name}`}>
            <span className="text-soft">{kind}</span> <code className="font-mono">{name}</code> {change}
          </li>
        ))}
      </ul>
      <AskButton
        consequence={
          overwritten.length === 0
            ? `${counted(changing.length, 'object', 'objects')} of the draft ${changing.length === 1 ? 'is' : 'are'} as the files say then. Their history keeps what they were.`
            : 'What was edited here since files were last taken is undone for these objects.'
        }
        lost={overwritten.flatMap(({ kind, name, lost }) => lost.map((what) => `${kind} ${name}: ${what}`))}
        does="Take them into the draft"
        onConfirm={onTake}
      >
        Take them into the draft …
      </AskButton>
      {overwritten.length > 0 && (
        <p className="mt-1 border-l-2 border-ochre bg-ochre-wash px-2 py-0.5">
          <CodeText text={`${counted(overwritten.length, 'object was', 'objects were')} edited here since.`} />
        </p>
      )}
    </div>
  );
}
