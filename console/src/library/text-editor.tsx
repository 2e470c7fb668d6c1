import type { ReactNode } from 'react';
import { useWorkspace } from '../api/queries.js';
import { useReading } from '../edit/use-reading.js';
import { ObjectForm } from '../forms/object-form.js';
import { Button } from '../frame/button.js';
import { ErrorMessage } from '../frame/message.js';
import { Problems } from '../frame/problems.js';
import { CodeText } from '../marks/code-text.js';
import { DocumentEditor } from '../text/document-editor.js';
import { NoticeView } from './notice-view.js';

interface TextEditorProps {
  readonly kind: string;
  readonly name: string;
  /** Whether no object has the name yet. */
  readonly isNew: boolean;
  readonly text: string;
  readonly onChange: (text: string) => void;
  readonly onStore: () => void;
  readonly isStoring: boolean;
  readonly error: Error | null;
  /** What else can be done with it. */
  readonly acts?: ReactNode;
}

const FILE = 'edited.yaml';

/** An object as a form and as its text, with what it says and what is wrong with it as one types. */
export function TextEditor(props: TextEditorProps) {
  const { kind, name, isNew, text, onChange, onStore, isStoring, error, acts } = props;
  const reading = useReading(FILE, text);
  const workspace = useWorkspace().data;
  const issues = reading.data?.issues ?? [];
  const notice = kind === 'notice' ? reading.data?.notices[0] : undefined;
  const said = reading.data?.objects[0]?.sentence;
  return (
    <form
      className="space-y-2"
      onSubmit={(event) => {
        event.preventDefault();
        onStore();
      }}
    >
      {said && issues.length === 0 && (
        <p className="border-l-2 border-iris bg-iris-wash px-2 py-1" aria-live="polite">
          <CodeText text={said} />
        </p>
      )}
      {notice && <NoticeView notice={notice} of="the request is made up" />}
      {workspace && <ObjectForm {...{ kind, isNew, text, workspace, onChange }} />}
      <DocumentEditor
        label="As text"
        kind={kind}
        problems={issues}
        value={text}
        onChange={onChange}
        rows={Math.min(30, Math.max(10, text.split('\n').length + 1))}
      />
      <Problems problems={issues} />
      {error && <ErrorMessage error={error} />}
      <span className="flex gap-2">
        <Button type="submit" main disabled={issues.length > 0 || isStoring || name === ''}>
          Keep in the draft
        </Button>
        {acts}
      </span>
    </form>
  );
}
