import type { ObjectBody } from '@jade-fence/contract';
import { useUnsaved } from '../edit/unsaved.js';
import { useObjectEdit } from '../edit/use-object-edit.js';
import { Button } from '../frame/button.js';
import { TextEditor } from './text-editor.js';

interface EditedObjectProps {
  readonly kind: string;
  readonly name: string;
  readonly stored: ObjectBody;
  readonly mayEdit: boolean;
}

/** An object as it is edited; what is typed stays when somebody else changes the object meanwhile. */
export function EditedObject({ kind, name, stored, mayEdit }: EditedObjectProps) {
  const [typed, setTyped] = useUnsaved<{ readonly text: string; readonly version: number }>(`${kind} ${name}`);
  const edit = useObjectEdit({ kind, name, text: stored.text, version: stored.version });
  if (!mayEdit) return <pre className="overflow-auto border border-line bg-sheet p-2 font-mono">{stored.text}</pre>;
  return (
    <>
      {typed && typed.version !== stored.version && (
        <p role="alert" className="mb-2 border-l-2 border-ochre bg-ochre-wash px-2 py-1">
          It was changed meanwhile and is at version {stored.version} now. What you typed is of version {typed.version}.{' '}
          <Button onClick={() => setTyped(undefined)}>Take theirs</Button>{' '}
          <Button onClick={() => setTyped({ ...typed, version: stored.version })}>Keep mine</Button>
        </p>
      )}
      <TextEditor
        kind={kind}
        name={name}
        isNew={false}
        text={typed?.text ?? stored.text}
        onChange={(text) => setTyped({ text, version: typed?.version ?? stored.version })}
        onStore={() =>
          edit.put.mutate({
            text: typed?.text ?? stored.text,
            version: typed?.version ?? stored.version,
            onKept: () => setTyped(undefined),
          })
        }
        isStoring={edit.put.isPending}
        error={edit.put.error}
        acts={edit.undo && typed === undefined && <Button onClick={edit.undo}>Undo</Button>}
      />
    </>
  );
}
