import { Dialog, DialogPanel } from '@headlessui/react';
import { useMe } from '../api/session.js';
import { SignInForm } from './sign-in-form.js';
import { useSignedOut } from './signed-out.js';

/** Asks to sign in again over the page, which keeps what was typed on it. */
export function SessionEnded() {
  const ended = useSignedOut();
  const known = useMe().data !== undefined;
  return (
    <Dialog open={ended && known} onClose={() => undefined} className="relative z-40">
      <div className="fixed inset-0 bg-paper/80" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="w-96 rounded-md border border-line bg-sheet p-6 shadow-lg">
          <h2 className="mb-1 text-head font-semibold">Your session has ended</h2>
          <p className="mb-3 text-soft">Sign in again; what you typed is still there.</p>
          <SignInForm />
        </DialogPanel>
      </div>
    </Dialog>
  );
}
