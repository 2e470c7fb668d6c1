import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useWorkspace } from '../api/queries.js';
import { useMay } from '../api/session.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage } from '../frame/message.js';
import { editsOfText } from './edits-of-text.js';
import { beginUnsaved, useUnsavedOf } from './unsaved.js';

interface MakeRuleProps {
  /** What the rule is to be called, until somebody says otherwise. */
  readonly name: string;
  /** What it is to match: fields and their values. */
  readonly when: Readonly<Record<string, readonly string[]>>;
  /** The policy that it is to be of; undefined: it is chosen here. */
  readonly policy?: string | undefined;
  /** What the button says. Default: Make a rule of this. */
  readonly says?: string;
}

/** Begins a rule that only observes, with its condition written already, and opens it to be finished. */
export function MakeRule({ name, when, policy, says = 'Make a rule of this' }: MakeRuleProps) {
  const mayEdit = useMay('editor');
  const navigate = useNavigate();
  const policies = useWorkspace().data?.policies ?? [];
  const [chosen, setChosen] = useState<string>();
  const into = policy ?? chosen ?? policies[0]?.policy;
  const isBegun = useUnsavedOf(`${into}/`).has('');
  if (!mayEdit || into === undefined) return null;
  const { mutate: make, error } = useMutation({
    mutationFn: async () => {
      const { withKey } = await editsOfText();
      // It only observes, so that nothing is stopped by what is not finished.
      const text = withKey(`rule: ${ruleName(name)}\nthen: block\nstance: observe\n`, 'when', when);
      beginUnsaved(`${into}/`, { base: null, text });
      navigate(`/policies/${into}?edit=%2B`);
    },
  });
  return (
    <span className="inline-flex flex-wrap items-center gap-2">
      {policy === undefined && policies.length > 1 && (
        <Choice
          label="In"
          value={into}
          options={policies.map((each) => ({ value: each.policy, label: each.policy, detail: each.note ?? '' }))}
          onChange={setChosen}
        />
      )}
      {isBegun ? (
        <AskButton
          consequence={`A new rule of ${into} is begun and not kept yet. It is lost if this one takes its place.`}
          does="Begin this one"
          onConfirm={() => make()}
        >
          {says}
        </AskButton>
      ) : (
        <Button onClick={() => make()}>{says}</Button>
      )}
      {error && <ErrorMessage error={error} />}
    </span>
  );
}

/** A name as rules have them, made of any text. */
export const ruleName = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60) || 'new-rule';
