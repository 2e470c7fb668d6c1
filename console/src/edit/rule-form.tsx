import type { WorkspaceBody } from '@jade-fence/contract';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { ConditionsField } from './conditions-field.js';
import { LimitField } from './limit-field.js';
import { type RuleValue, writtenAlternatives } from './rule-value.js';
import { ThenField } from './then-field.js';

interface RuleFormProps {
  readonly value: RuleValue;
  readonly workspace: WorkspaceBody;
  /** The beginning that most names of the policy have; undefined where there is none. */
  readonly habit: string | undefined;
  /** Whether writing begins here. A form that is drawn again, once its text can be read, takes the focus from nothing. */
  readonly begins: boolean;
  readonly onChange: (key: string, value: unknown) => void;
}

const options = (...words: readonly string[]) => words.map((word) => ({ value: word, label: word }));
/** Values that are left out of the text, as they are the defaults. */
const unless = (word: string, usual: string) => (word === usual ? undefined : word);

/** A rule as a form. */
export function RuleForm({ value, workspace, habit, begins, onChange }: RuleFormProps) {
  return (
    <div className="space-y-2">
      <div className="grid sm:grid-cols-2 gap-3">
        <TextField
          label="Name"
          autoFocus={begins}
          wide
          required
          value={value.rule}
          onChange={(name) => onChange('rule', name)}
        />
        <TextField
          label="Note"
          wide
          prose
          value={value.note}
          onChange={(note) => onChange('note', note || undefined)}
        />
      </div>
      {habit && !value.rule.startsWith(habit) && (
        <p className="text-soft">
          Most rules here begin with <code className="font-mono">{habit}</code>.
        </p>
      )}
      <ConditionsField
        label="when"
        none="Nothing is asked: it matches every request."
        value={value.when}
        workspace={workspace}
        onChange={(next) => onChange('when', writtenAlternatives(next))}
      />
      <ConditionsField
        label="unless"
        none="No exceptions."
        value={value.unless}
        workspace={workspace}
        onChange={(next) => onChange('unless', writtenAlternatives(next))}
      />
      <LimitField value={value.limit} onChange={(limit) => onChange('limit', limit)} />
      <ThenField value={value.then} workspace={workspace} onChange={(then) => onChange('then', then)} />
      <div className="flex flex-wrap gap-3">
        <Choice
          label="Stance"
          value={value.stance}
          options={options('enforce', 'observe', 'off')}
          onChange={(stance) => onChange('stance', unless(stance, 'enforce'))}
        />
        <Choice
          label="Record"
          value={value.record}
          options={options('quiet', 'log', 'alert')}
          onChange={(record) => onChange('record', unless(record, 'log'))}
        />
        <Choice
          label="Where it is blind"
          value={value.ifBlind}
          options={options('no-match', 'match')}
          onChange={(blind) => onChange('if-blind', unless(blind, 'no-match'))}
        />
      </div>
    </div>
  );
}
