import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { CallError } from './api/call.js';
import { useWorkspace } from './api/queries.js';
import { ErrorMessage, Waiting } from './frame/message.js';
import { EmptyPage } from './policy/empty-page.js';
import { PolicyPage } from './policy/policy-page.js';
import { SignInPage } from './sign-in/sign-in-page.js';

export function App() {
  return (
    <BrowserRouter>
      <Pages />
    </BrowserRouter>
  );
}

function Pages() {
  const workspace = useWorkspace();
  if (workspace.error instanceof CallError && workspace.error.status === 401) return <SignInPage />;
  if (workspace.error) return <ErrorMessage error={workspace.error} />;
  if (!workspace.data) return <Waiting what="the workspace" />;
  const first = workspace.data.policies[0];
  if (!first) return <EmptyPage workspace={workspace.data} />;
  return (
    <Routes>
      <Route path="/policies/:policy" element={<PolicyPage workspace={workspace.data} />} />
      <Route path="*" element={<Navigate to={`/policies/${first.policy}`} replace />} />
    </Routes>
  );
}
