import { Field, Input, Label } from '@headlessui/react';
import { type FormEvent, useState } from 'react';
import { useSignIn } from '../api/queries.js';
import { Brand } from '../frame/brand.js';
import { Button } from '../frame/button.js';
import { Command, ErrorMessage } from '../frame/message.js';
import { useTheme } from '../frame/theme.js';

/** Asks for the access key. */
export function SignInPage() {
  useTheme();
  const [key, setKey] = useState('');
  const signIn = useSignIn();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate(key);
  };
  return (
    <main className="mx-auto mt-24 max-w-md rounded-md border border-line bg-sheet p-6">
      <h1 className="mb-4">
        <Brand />
      </h1>
      <form onSubmit={submit} className="space-y-3">
        <Field>
          <Label className="mb-1 block font-medium">Access key</Label>
          <Input
            type="password"
            autoComplete="current-password"
            required
            autoFocus
            value={key}
            onChange={(event) => setKey(event.target.value)}
            className="w-full rounded-sm border border-line bg-paper px-2 py-1.5 font-mono"
          />
        </Field>
        {signIn.error && <ErrorMessage error={signIn.error} />}
        <Button type="submit" main disabled={signIn.isPending}>
          Sign in
        </Button>
      </form>
      <p className="mt-4 mb-1 text-soft">
        The service made the key at its first start. It stands in its data folder, such as
      </p>
      <Command text="cat ~/.local/share/jade-fence/access-key" />
    </main>
  );
}
