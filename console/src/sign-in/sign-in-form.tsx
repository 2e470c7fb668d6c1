import { Field, Input, Label } from '@headlessui/react';
import { type FormEvent, useState } from 'react';
import { useSignIn } from '../api/queries.js';
import { Button } from '../frame/button.js';
import { Command, ErrorMessage } from '../frame/message.js';

/** Asks for the access key, or for a name and a password. */
export function SignInForm() {
  const [byName, setByName] = useState(false);
  const [name, setName] = useState('');
  const [secret, setSecret] = useState('');
  const signIn = useSignIn();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate(byName ? { name, password: secret } : { key: secret });
  };
  const turn = () => {
    setByName(!byName);
    setSecret('');
    signIn.reset();
  };
  return (
    <>
      <form onSubmit={submit} className="space-y-3">
        {byName && <TextField label="Name" autoComplete="username" value={name} onChange={setName} />}
        <TextField
          key={String(byName)}
          label={byName ? 'Password' : 'Access key'}
          type="password"
          autoComplete="current-password"
          value={secret}
          onChange={setSecret}
        />
        {signIn.error && <ErrorMessage error={signIn.error} />}
        <span className="flex gap-2">
          <Button type="submit" main disabled={signIn.isPending}>
            Sign in
          </Button>
          <Button onClick={turn}>{byName ? 'With the access key' : 'With a name and password'}</Button>
        </span>
      </form>
      {!byName && (
        <>
          <p className="mt-4 mb-1 text-soft">
            The service made the key at its first start. It is in the data folder, such as
          </p>
          <Command text="cat ~/.local/share/jade-fence/access-key" />
        </>
      )}
    </>
  );
}

interface TextFieldProps {
  readonly label: string;
  readonly type?: string;
  readonly autoComplete: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}

function TextField({ label, type = 'text', autoComplete, value, onChange }: TextFieldProps) {
  return (
    <Field>
      <Label className="mb-1 block font-medium">{label}</Label>
      <Input
        type={type}
        autoComplete={autoComplete}
        required
        autoFocus
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className="w-full rounded-sm border border-edge bg-paper px-2 py-1.5 font-mono"
      />
    </Field>
  );
}
