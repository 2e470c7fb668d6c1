import type { PolicyBody } from '@jade-fence/contract';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { useWorkspace } from '../api/queries.js';
import { editsOfText, type TextEdits } from '../edit/edits-of-text.js';
import type { ObjectEdit } from '../edit/use-object-edit.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage } from '../frame/message.js';
import { count } from '../marks/count.js';
import { STANCE_WORDS } from './rule-acts.js';

interface SeveralBarProps {
  readonly policy: PolicyBody;
  /** The names of the rules that are chosen. */
  readonly chosen: readonly string[];
  /** The names of those that are shown, which can be chosen at once. */
  readonly shown: readonly string[];
  readonly edit: ObjectEdit;
  readonly onChoose: (chosen: readonly string[]) => void;
  readonly onClose: () => void;
}

/** What can be done with all rules that are chosen, as one edit. */
export default function SeveralBar({ policy, chosen, shown, edit, onChoose, onClose }: SeveralBarProps) {
  const others = (useWorkspace().data?.policies ?? []).map((each) => each.policy);
  const copy = useDeed(async (to: string) => {
    const { withCopies } = await editsOfText();
    const { text, version } = await call('GET /policies/:name', { params: { name: to } });
    const place = to === policy.policy ? lastOf(policy, chosen) + 1 : 0;
    return call('PUT /objects/:kind/:name', {
      params: { kind: 'policy', name: to },
      body: { text: withCopies(text, policy.text, chosen, place) },
      version,
    });
  });
  const put = (next: (edits: TextEdits) => string, onSuccess: () => void = () => undefined) =>
    edit.put.mutate({ text: async () => next(await editsOfText()) }, { onSuccess });
  const none = chosen.length === 0;
  return (
    <section
      aria-label="Several rules"
      className="sticky top-0 z-20 flex flex-wrap items-center gap-2 border-y border-line bg-sheet px-4 py-2"
    >
      <span role="status" className="tabular-nums">
        {count(chosen.length)} of {count(policy.rules.length)} chosen
      </span>
      <Button onClick={() => onChoose([...new Set([...chosen, ...shown])])}>Choose all that are shown</Button>
      {Object.entries(STANCE_WORDS).map(([stance, words]) => (
        <Button
          key={stance}
          disabled={none}
          onClick={() => put((edits) => edits.withStance(policy.text, chosen, stance))}
        >
          {words}
        </Button>
      ))}
      {!none && (
        <Choice
          label="Copy to"
          value=""
          empty="a policy"
          options={others.map((name) => ({
            value: name,
            label: name,
            detail: name === policy.policy ? 'below them' : 'at its top',
          }))}
          onChange={(to) => copy.mutate(to)}
        />
      )}
      <AskButton
        disabled={none}
        consequence={`${chosen.length === 1 ? 'One rule is' : `${count(chosen.length)} rules are`} deleted from the draft of ${policy.policy}. Undo brings them back.`}
        does="Delete them"
        onConfirm={() =>
          put(
            (edits) => edits.withoutRules(policy.text, chosen),
            () => onChoose([]),
          )
        }
      >
        Delete …
      </AskButton>
      <span className="ml-auto">
        <Button onClick={onClose}>Done</Button>
      </span>
      {copy.error && <ErrorMessage error={copy.error} />}
      {copy.data && !copy.isPending && (
        <span role="status" className="w-full text-soft">
          Copied to <code className="font-mono">{copy.data.name}</code>.
        </span>
      )}
    </section>
  );
}

const lastOf = (policy: PolicyBody, chosen: readonly string[]): number =>
  policy.rules.findLastIndex(({ rule }) => chosen.includes(rule));
