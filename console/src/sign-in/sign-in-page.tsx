import { Brand } from '../frame/brand.js';
import { useTheme } from '../frame/theme.js';
import { SignInForm } from './sign-in-form.js';

/** Where one is not signed in. */
export function SignInPage() {
  useTheme();
  return (
    <main className="mx-auto mt-24 max-w-md rounded-md border border-line bg-sheet p-6">
      <h1 className="mb-4">
        <Brand />
      </h1>
      <SignInForm />
    </main>
  );
}
