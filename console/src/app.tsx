import { lazy, Suspense } from 'react';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { CallError } from './api/call.js';
import { useWorkspace } from './api/queries.js';
import { useMe } from './api/session.js';
import { ErrorMessage, Waiting } from './frame/message.js';
import { Shell } from './frame/shell.js';
import { useTimeZone } from './marks/clock.js';
import { PolicyPage } from './policy/policy-page.js';
import { SessionEnded } from './sign-in/session-ended.js';
import { SignInPage } from './sign-in/sign-in-page.js';

/** Pages that one does not begin with are fetched when they are opened. */
const FirstSteps = lazy(() => import('./start/first-steps.js'));
const ComparePage = lazy(() => import('./compare/compare-page.js'));
const TryPage = lazy(() => import('./try/try-page.js'));
const ChecksPage = lazy(() => import('./checks/checks-page.js'));
const LibraryPage = lazy(() => import('./library/library-page.js'));
const LogsPage = lazy(() => import('./logs/logs-page.js'));
const DraftPage = lazy(() => import('./draft/draft-page.js'));
const LivePage = lazy(() => import('./live/live-page.js'));
const UsagePage = lazy(() => import('./live/usage-page.js'));
const PeoplePage = lazy(() => import('./people/people-page.js'));
const AuditPage = lazy(() => import('./people/audit-page.js'));
const EffectivePage = lazy(() => import('./effective/effective-page.js'));
const ReviewPage = lazy(() => import('./review/review-page.js'));
const HistoryPage = lazy(() => import('./history/history-page.js'));
const LookUpPage = lazy(() => import('./lookup/look-up-page.js'));

export function App() {
  return (
    <BrowserRouter>
      <Guarded />
      <SessionEnded />
    </BrowserRouter>
  );
}

function Guarded() {
  const me = useMe();
  const [zone] = useTimeZone();
  if (me.error instanceof CallError && me.error.status === 401 && !me.data) return <SignInPage />;
  if (me.error && !me.data) return <ErrorMessage error={me.error} />;
  if (!me.data) return <Waiting what="the console" />;
  return (
    <Shell>
      <Suspense fallback={<Waiting what="the page" />}>
        {/* Another time zone draws all that is shown anew. */}
        <Routes key={zone}>
          <Route path="/policies/:policy" element={<PolicyPage />} />
          <Route path="/compare" element={<ComparePage />} />
          <Route path="/try" element={<TryPage />} />
          <Route path="/checks" element={<ChecksPage />} />
          <Route path="/library/:kind?/:name?" element={<LibraryPage />} />
          <Route path="/logs/:log?" element={<LogsPage />} />
          <Route path="/draft" element={<DraftPage />} />
          <Route path="/live" element={<LivePage />} />
          <Route path="/usage" element={<UsagePage />} />
          <Route path="/people/:part?" element={<PeoplePage />} />
          <Route path="/audit" element={<AuditPage />} />
          <Route path="/effective" element={<EffectivePage />} />
          <Route path="/review" element={<ReviewPage />} />
          <Route path="/history/:kind?/:name?" element={<HistoryPage />} />
          <Route path="/look-up" element={<LookUpPage />} />
          <Route path="*" element={<First />} />
        </Routes>
      </Suspense>
    </Shell>
  );
}

/** The first policy, or what to do where there is none. */
function First() {
  const { pathname, search } = useLocation();
  const workspace = useWorkspace();
  if (workspace.error && !workspace.data) return <ErrorMessage error={workspace.error} />;
  if (!workspace.data) return <Waiting what="the workspace" />;
  // A page that is still being fetched leaves this one drawn: whoever has gone there already is not to be led away.
  if (window.location.pathname !== pathname) return <Waiting what="the page" />;
  const first = workspace.data.policies[0];
  return first ? <Navigate to={{ pathname: `/policies/${first.policy}`, search }} replace /> : <FirstSteps />;
}
