import { Radio, RadioGroup } from '@headlessui/react';
import { type FormEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { wordsIn } from '../frame/words.js';
import { INTENTS, type Intent, policyFor } from './intents.js';

/** A policy made of an intent: a sentence is chosen, and what it speaks of is filled in. */
export function FirstPolicy() {
  const [intent, setIntent] = useState<Intent>();
  return (
    <>
      <RadioGroup
        aria-label="What you want"
        value={intent?.key ?? ''}
        onChange={(key: string) => setIntent(INTENTS.find((each) => each.key === key))}
        className="space-y-1"
      >
        {INTENTS.map(({ key, sentence }) => (
          <Radio
            key={key}
            value={key}
            className="block cursor-pointer rounded-sm border border-edge bg-sheet px-2 py-1 data-checked:border-iris data-checked:font-semibold data-focus:outline-2 data-hover:border-iris"
          >
            <span aria-hidden="true">{key === intent?.key ? '●' : '○'}</span> {sentence}
          </Radio>
        ))}
      </RadioGroup>
      {intent && <IntentForm key={intent.key} intent={intent} />}
    </>
  );
}

function IntentForm({ intent }: { readonly intent: Intent }) {
  const [whose, setWhose] = useState('');
  const [values, setValues] = useState('');
  const [name, setName] = useState<string>(intent.key);
  const navigate = useNavigate();
  const make = useDeed(() =>
    call('PUT /objects/:kind/:name', {
      params: { kind: 'policy', name },
      body: { text: policyFor(intent, name, wordsIn(whose), wordsIn(values)) },
      version: 'absent',
    }),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate(undefined, { onSuccess: () => navigate(`/policies/${name}`) });
  };
  return (
    <form className="mt-2 space-y-2" onSubmit={submit}>
      <TextField label={intent.whose} wide required value={whose} placeholder={intent.example} onChange={setWhose} />
      {intent.rule && (
        <TextField
          label={intent.rule.values}
          wide
          required
          value={values}
          placeholder={intent.rule.example}
          onChange={setValues}
        />
      )}
      <TextField label="Name of the policy" wide required value={name} onChange={setName} />
      {make.error && <ErrorMessage error={make.error} />}
      <Button type="submit" main disabled={make.isPending}>
        Make the policy
      </Button>
    </form>
  );
}
