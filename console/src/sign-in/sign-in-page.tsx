import { Field, Input, Label } from '@headlessui/react';
import { type FormEvent, useState } from 'react';
import { useSignIn } from '../api/queries.js';
import { Brand } from '../frame/brand.js';
import { Button } from '../frame/button.js';
import { Command, ErrorMessage } from '../frame/message.js';
import { useTheme } from '../frame/theme.js';

/** Asks for the access key, or for a name and a password. */
export function SignInPage() {
  useTheme();
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
    <main className="mx-auto mt-24 max-w-md rounded-md border border-line bg-sheet p-6">
      <h1 className="mb-4">
        <Brand />
      </h1>
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
            The service made the key at its first start. It stands in its data folder, such as
          </p>
          <Command text="cat ~/.local/share/jade-fence/access-key" />
        </>
      )}
    </main>
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
        className="w-full rounded-sm border border-line bg-paper px-2 py-1.5 font-mono"
      />
    </Field>
  );
}
