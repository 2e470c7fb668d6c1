import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useEffect, useRef } from 'react';
import { NavLink, useLocation } from 'react-router';
import { mayChange, useFetched } from '../api/fetching.js';
import { useSignOut } from '../api/queries.js';
import { useMay, useMe } from '../api/session.js';
import { Bars } from '../charts/bars.js';
import { useAskBeforeClosing } from '../edit/unsaved.js';
import { LookUpBox } from '../lookup/look-up-box.js';
import { Brand } from './brand.js';
import { Button } from './button.js';
import { ErrorBoundary } from './error-boundary.js';
import { Keys } from './keys.js';
import { Outage } from './outage.js';
import { PlaceAnnouncer } from './place-announcer.js';
import { useTheme } from './theme.js';

const DRAFT_MS = 10_000;

/** The parts of the console, in the order of a day's work. */
const PARTS = [
  { to: '/policies', label: 'Rules' },
  { to: '/compare', label: 'Compare' },
  { to: '/try', label: 'Try' },
  { to: '/review', label: 'Review' },
  { to: '/checks', label: 'Checks' },
  { to: '/library', label: 'Library' },
  { to: '/logs', label: 'Logs' },
  { to: '/draft', label: 'Draft' },
  { to: '/live', label: 'Live' },
  { to: '/people', label: 'People' },
];

/** The frame of every page: the navigation, the look-up, and who is signed in. */
export function Shell({ children }: { readonly children: ReactNode }) {
  const signOut = useSignOut();
  const [theme, setTheme] = useTheme();
  const me = useMe().data;
  useAskBeforeClosing();
  return (
    <div className="flex h-screen flex-col">
      <Bars />
      <a href="#page" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-2">
        To the page
      </a>
      <header className="flex flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-line bg-sheet px-4 py-1.5">
        <Brand />
        <nav aria-label="Parts" className="flex flex-wrap gap-x-0.5">
          {PARTS.map(({ to, label }) => (
            <NavLink
              key={to}
              to={to}
              className={({ isActive }) =>
                `rounded-sm px-2 py-1 ${isActive ? 'bg-chosen font-semibold' : 'text-soft hover:text-ink'}`
              }
            >
              {label}
              {label === 'Draft' && <DraftMark />}
            </NavLink>
          ))}
        </nav>
        <span className="ml-auto flex flex-wrap items-center gap-2">
          <LookUpBox />
          <span className="text-soft">
            {me?.name} <span className="sr-only">, {me?.role}</span>
          </span>
          <Button onClick={() => setTheme(theme === 'dark' ? 'light' : 'dark')}>
            {theme === 'dark' ? 'Light' : 'Dark'}
          </Button>
          <Button onClick={() => signOut.mutate()}>Sign out</Button>
        </span>
      </header>
      <Outage />
      <div id="page" tabIndex={-1} className="flex min-h-0 flex-1 flex-col outline-none">
        <ErrorBoundary place={useLocation().pathname}>{children}</ErrorBoundary>
      </div>
      <PlaceAnnouncer />
      <Keys />
    </div>
  );
}

/** Whether there is anything to publish, and what prevents it. */
function DraftMark() {
  const draft = useFetched('GET /draft', {}, { every: DRAFT_MS }).data;
  const may = useMay('editor');
  const client = useQueryClient();
  const known = useRef(draft?.draft);
  // Somebody else edits too: what is shown of the draft is fetched anew.
  useEffect(() => {
    if (draft?.draft === known.current) return;
    if (known.current !== undefined) void client.invalidateQueries({ predicate: mayChange });
    known.current = draft?.draft;
  }, [client, draft?.draft]);
  if (!draft?.changed || !may) return null;
  return <span className="ml-1 rounded-sm bg-ochre-wash px-1 text-[11px] text-ochre">edited</span>;
}
