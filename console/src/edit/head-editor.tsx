import type { PolicyBody, WorkspaceBody } from '@jade-fence/contract';
import { Button } from '../frame/button.js';
import { ErrorMessage } from '../frame/message.js';
import { Problems } from '../frame/problems.js';
import { DocumentEditor } from '../text/document-editor.js';
import { EditActs } from './edit-acts.js';
import { HeadForm } from './head-form.js';
import { readHead, withHeadKey, writtenHead } from './policy-head.js';
import { useUnsaved } from './unsaved.js';
import type { ObjectEdit } from './use-object-edit.js';
import { useReading } from './use-reading.js';

interface HeadEditorProps {
  readonly policy: PolicyBody;
  readonly workspace: WorkspaceBody;
  readonly edit: ObjectEdit;
  readonly onClose: () => void;
}

/** What was written, and the text of the policy that it was made from. */
interface Unsaved {
  readonly base: string;
  readonly text: string;
}

/** All that a policy says beside its rules, as a form and as the text of the whole policy. */
export default function HeadEditor({ policy, workspace, edit, onClose }: HeadEditorProps) {
  const [unsaved, setUnsaved] = useUnsaved<Unsaved>(`${policy.policy}/@`);
  const text = unsaved?.text ?? policy.text;
  const moved = unsaved !== undefined && unsaved.base !== policy.text;
  const setText = (next: string) => setUnsaved({ base: unsaved?.base ?? policy.text, text: next });
  const close = () => {
    setUnsaved(undefined);
    onClose();
  };
  const value = readHead(text);
  const faulty = 'faults' in value;
  const reading = useReading('edited.yaml', faulty ? undefined : text);
  const issues = faulty ? value.faults.map((what) => ({ path: 'text', what })) : (reading.data?.issues ?? []);
  const sentence = reading.data?.policies[0]?.default.sentence;
  return (
    <section aria-label={`Edit policy ${policy.policy}`} className="min-h-0 flex-1 overflow-auto">
      <div className="space-y-3 px-4 py-3">
        <div className="flex items-baseline gap-2">
          <h2 className="text-head font-semibold">
            The policy <span className="font-mono">{policy.policy}</span>
          </h2>
          <EditActs
            of="policy"
            mayKeep={!moved && issues.length === 0 && text !== policy.text && !edit.put.isPending}
            onKeep={() => edit.put.mutate({ text, onKept: close })}
            isWritten={text !== policy.text}
            onClose={close}
          />
        </div>
        {sentence && issues.length === 0 && (
          <p className="border-l-2 border-iris bg-iris-wash px-2 py-1 text-head" aria-live="polite">
            {sentence}
          </p>
        )}
        {moved && (
          <div role="alert" className="space-y-2 border-l-2 border-ochre bg-ochre-wash px-3 py-2">
            <p>{policy.changedBy ?? 'Somebody else'} changed this policy while you edited it.</p>
            <Button onClick={() => setUnsaved(undefined)}>Take theirs, drop mine</Button>
          </div>
        )}
        {edit.put.error && !moved && <ErrorMessage error={edit.put.error} />}
        <Problems problems={issues} />
        {!faulty && (
          <HeadForm
            value={value}
            workspace={workspace}
            onChange={(part, next) => setText(withHeadKey(text, ...writtenHead(next, part)))}
          />
        )}
        <DocumentEditor
          label="The whole policy as text"
          kind="policy"
          problems={issues}
          value={text}
          onChange={setText}
          rows={Math.min(40, Math.max(12, text.split('\n').length + 1))}
        />
      </div>
    </section>
  );
}
