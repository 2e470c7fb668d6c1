import type { PolicyBody, WorkspaceBody } from '@jade-fence/contract';
import { lineInRule, placeOf, ruleTexts, withAdded, withKey, withRule } from '@jade-fence/core/edit';
import { useEffect, useRef } from 'react';
import { CallError } from '../api/call.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage, Message } from '../frame/message.js';
import { Problems } from '../frame/problems.js';
import { CodeText } from '../marks/code-text.js';
import { Findings } from '../marks/findings.js';
import { DocumentEditor } from '../text/document-editor.js';
import { EditActs } from './edit-acts.js';
import { placeFor } from './place-for.js';
import { RuleForm } from './rule-form.js';
import { readRule } from './rule-value.js';
import { useUnsaved } from './unsaved.js';
import type { ObjectEdit } from './use-object-edit.js';
import { useReading } from './use-reading.js';

interface RuleEditorProps {
  readonly policy: PolicyBody;
  readonly workspace: WorkspaceBody;
  /** The rule that is edited; undefined: a new one. */
  readonly rule: string | undefined;
  readonly edit: ObjectEdit;
  readonly onClose: () => void;
}

/** It only observes, so that nothing is stopped by what is not written yet. */
const NEW = 'rule: new-rule\nthen: block\nstance: observe\n';

/** One rule as a form and as text, side by side; an edit of one appears in the other. */
export default function RuleEditor({ policy, workspace, rule, edit, onClose }: RuleEditorProps) {
  const [unsaved, setUnsaved] = useUnsaved<Unsaved>(`${policy.policy}/${rule ?? ''}`);
  const isBegun = useRef(false);
  useEffect(() => {
    isBegun.current = true;
  }, []);
  const found = rule === undefined ? -1 : placeOf(policy.text, rule);
  const stored = rule === undefined ? NEW : ruleTexts(policy.text)[found];
  const isNew = rule === undefined || (unsaved !== undefined && unsaved.base === null);
  const text = unsaved?.text ?? stored ?? '';
  const value = readRule(text);
  const faulty = 'faults' in value;
  const begins = isNew && !faulty ? placeFor(policy.text, value) : undefined;
  const place = isNew ? Math.min(unsaved?.place ?? begins?.place ?? 0, policy.rules.length) : found;
  const moved = unsaved !== undefined && !isNew && unsaved.base !== stored;
  const change = (next: Partial<Unsaved>) =>
    setUnsaved({ base: unsaved ? unsaved.base : isNew ? null : text, text, place: unsaved?.place, ...next });
  const setText = (next: string) => change({ text: next });
  const close = () => {
    setUnsaved(undefined);
    onClose();
  };
  const whole = faulty ? undefined : isNew ? withAdded(policy.text, place, text) : withRule(policy.text, place, text);
  const reading = useReading('edited.yaml', whole);
  const issues = faulty ? [] : (reading.data?.issues ?? []).map((issue) => asOfRule(issue, whole ?? '', place, text));
  // By its name: what was read last may be of a moment ago, when it was at another place.
  const own = faulty ? undefined : value.rule;
  const sentence = reading.data?.policies[0]?.rules.find((each) => each.rule === own)?.sentence;
  const findings = (reading.data?.findings ?? []).filter(
    (finding) => finding.policy === policy.policy && finding.rule === own && own !== undefined,
  );
  const save = () => {
    if (whole !== undefined) edit.put.mutate({ text: whole, onKept: close });
  };
  if (stored === undefined && unsaved === undefined)
    return (
      <Message title={`No rule ${rule}`}>
        <p>The policy has no rule of this name any more.</p>
        <Button onClick={onClose}>Close</Button>
      </Message>
    );
  return (
    <section aria-label={rule === undefined ? 'New rule' : `Edit ${rule}`} className="min-h-0 flex-1 overflow-auto">
      {/* No form, since Enter in one of its lists would store what is not finished. */}
      <div className="space-y-3 px-4 py-3">
        <div className="flex items-baseline gap-2">
          <h2 className="text-head font-semibold">
            {rule === undefined ? 'A new rule' : <span className="font-mono">{rule}</span>}
          </h2>
          <EditActs
            of="rule"
            mayKeep={!faulty && !moved && issues.length === 0 && !edit.put.isPending}
            onKeep={save}
            isWritten={unsaved !== undefined && unsaved.text !== unsaved.base}
            onClose={close}
          />
        </div>
        {sentence && issues.length === 0 && (
          <p className="border-l-2 border-iris bg-iris-wash px-2 py-1 text-head" aria-live="polite">
            <CodeText text={sentence} />
          </p>
        )}
        {moved && (
          <ChangedMeanwhile
            by={policy.changedBy}
            stored={stored}
            onTake={() => setUnsaved(undefined)}
            onKeep={() => setUnsaved({ base: stored ?? null, text })}
          />
        )}
        {edit.put.error && !moved && <NotKept error={edit.put.error} />}
        {reading.error && <ErrorMessage error={reading.error} />}
        <Problems problems={faulty ? value.faults.map((what) => ({ path: 'text', what })) : issues} />
        {issues.length === 0 && !faulty && <Findings findings={findings} onMend={undefined} />}
        {isNew && (
          <Choice
            label="It goes"
            value={place}
            options={[
              ...policy.rules.map((each, at) => ({ value: at, label: `above ${each.rule}` })),
              { value: policy.rules.length, label: policy.rules.length === 0 ? 'first' : 'last' },
            ]}
            onChange={(next) => change({ place: next })}
          />
        )}
        {begins?.above !== undefined && place > begins.place && (
          <p role="status" className="border-l-2 border-ochre bg-ochre-wash px-2 py-0.5">
            <CodeText text={`\`${begins.above}\` is above it, and decides some of what it is about.`} />
          </p>
        )}
        {!faulty && (
          <RuleForm
            value={value}
            workspace={workspace}
            begins={!isBegun.current}
            habit={habitOf(policy.rules.map((each) => each.rule))}
            onChange={(key, next) => setText(withKey(text, key, next))}
          />
        )}
        <DocumentEditor
          label="The same as text"
          kind="rule"
          problems={faulty ? [] : issues}
          value={text}
          onChange={setText}
          rows={Math.max(8, text.split('\n').length + 1)}
        />
      </div>
    </section>
  );
}

/** Why a rule was not kept. Where others only changed another part of the policy, that has been fetched meanwhile. */
function NotKept({ error }: { readonly error: Error }) {
  if (!(error instanceof CallError && error.code === 'object-changed')) return <ErrorMessage error={error} />;
  return (
    <p role="alert" className="border-l-2 border-ochre bg-ochre-wash px-3 py-2">
      Somebody changed another part of this policy meanwhile. Keep the rule once more: what they changed stays.
    </p>
  );
}

/** What was written, and the text of the rule that it was made from; null for a rule that is to be added. */
interface Unsaved {
  readonly base: string | null;
  readonly text: string;
  /** Where a new rule goes, as somebody chose; undefined: above the first that would overtake it. */
  readonly place?: number | undefined;
}

interface ChangedMeanwhileProps {
  readonly by: string | null;
  /** The rule as it is in the draft; undefined where it is not there any more. */
  readonly stored: string | undefined;
  readonly onTake: () => void;
  readonly onKeep: () => void;
}

/** Somebody else changed the rule after this edit was begun: whoever wrote it says which of the two it is to be. */
function ChangedMeanwhile({ by, stored, onTake, onKeep }: ChangedMeanwhileProps) {
  const who = by ?? 'Somebody else';
  return (
    <div role="alert" className="space-y-2 border-l-2 border-ochre bg-ochre-wash px-3 py-2">
      <p className="font-medium">
        {stored === undefined
          ? `${who} removed this rule while you edited it.`
          : `${who} changed this rule while you edited it. It is now:`}
      </p>
      {stored !== undefined && <pre className="overflow-auto font-mono">{stored}</pre>}
      <span className="flex gap-2">
        <Button onClick={onTake}>{stored === undefined ? 'Leave it removed' : 'Take theirs, drop mine'}</Button>
        <Button onClick={onKeep}>
          {stored === undefined ? 'Add mine again, at the end' : 'Keep mine in its place'}
        </Button>
      </span>
    </div>
  );
}

/** An issue by the line of the rule that is written here; what is wrong elsewhere in the policy says so. */
function asOfRule<T extends { readonly line: number; readonly column: number; readonly path: string }>(
  issue: T,
  policy: string,
  place: number,
  rule: string,
) {
  const line = lineInRule(policy, place, issue.line);
  if (line === undefined)
    return { ...issue, line: undefined, path: `line ${issue.line} of the whole policy, ${issue.path}` };
  // In the policy the lines of the rule are further to the right.
  const [whole, own] = [policy.split('\n')[issue.line - 1] ?? '', rule.split('\n')[line - 1] ?? ''];
  return { ...issue, line, column: Math.max(1, issue.column - Math.max(0, whole.length - own.length)) };
}

/** The beginning, up to a dash, that more than half of the names have. */
function habitOf(names: readonly string[]): string | undefined {
  const counts = new Map<string, number>();
  for (const name of names) {
    const head = /^[a-z0-9]+-/.exec(name)?.[0];
    if (head) counts.set(head, (counts.get(head) ?? 0) + 1);
  }
  return [...counts].find(([, many]) => many > names.length / 2)?.[0];
}
