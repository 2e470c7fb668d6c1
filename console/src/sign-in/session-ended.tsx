import { useMe } from '../api/session.js';
import { Panel } from '../frame/panel.js';
import { SignInForm } from './sign-in-form.js';
import { useSignedOut } from './signed-out.js';

/** Asks to sign in again over the page, which keeps what was typed on it. */
export function SessionEnded() {
  const ended = useSignedOut();
  const known = useMe().data !== undefined;
  return (
    <Panel title="Your session has ended" open={ended && known} onClose={() => undefined}>
      <p className="mb-3 text-soft">Sign in again; what you typed is still there.</p>
      <SignInForm />
    </Panel>
  );
}
