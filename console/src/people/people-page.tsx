import { Navigate, NavLink, useParams } from 'react-router';
import { useMay } from '../api/session.js';
import { Page } from '../frame/page.js';
import { Everybody } from './everybody.js';
import { OwnPassword } from './own-password.js';
import { OwnTimeZone } from './own-time-zone.js';
import { Sessions } from './sessions.js';
import { Settings } from './settings.js';
import { Tokens } from './tokens.js';

/** Who may do what, with which keys; one's own account; and the service’s settings. */
export default function PeoplePage() {
  const { part } = useParams();
  const administrator = useMay('administrator');
  const publisher = useMay('publisher');
  const parts = [
    ...(administrator ? [{ to: 'everybody', label: 'Everybody' }] : []),
    { to: 'you', label: 'You' },
    { to: 'tokens', label: 'Tokens' },
    ...(publisher ? [{ to: 'settings', label: 'Settings' }] : []),
  ];
  const shown = parts.find(({ to }) => to === part)?.label;
  if (shown === undefined) return <Navigate to={`/people/${parts[0]?.to}`} replace />;
  return (
    <Page
      title={shown === 'You' ? 'Your account' : shown}
      about={ABOUT[shown]}
      acts={
        <nav aria-label="People" className="flex flex-wrap gap-0.5">
          {[...parts, ...(publisher ? [{ to: '/audit', label: 'Audit' }] : [])].map(({ to, label }) => (
            <NavLink
              key={to}
              to={to.startsWith('/') ? to : `/people/${to}`}
              className={({ isActive }) =>
                `rounded-sm px-2 py-1 ${isActive ? 'bg-chosen font-semibold' : 'text-soft hover:text-ink'}`
              }
            >
              {label}
            </NavLink>
          ))}
        </nav>
      }
    >
      {part === 'everybody' && <Everybody />}
      {part === 'tokens' && <Tokens administrator={administrator} />}
      {part === 'settings' && <Settings mayChange={administrator} />}
      {part === 'you' && (
        <>
          <OwnPassword />
          <OwnTimeZone />
          <Sessions />
        </>
      )}
    </Page>
  );
}

const ABOUT: Readonly<Record<string, string>> = {
  Everybody: 'Who may do what here',
  You: 'How you sign in, where you are signed in, and how times are shown to you',
  Tokens: 'Keys for programs and gateways',
  Settings: 'What administrators chose for the service',
};
