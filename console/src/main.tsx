import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { CallError } from './api/call.js';
import { isPassing } from './api/passing.js';
import { App } from './app.js';
import { signedOut } from './sign-in/signed-out.js';
import './styles.css';

const RETRY_MS = 2000;
/** What was fetched so lately is not fetched again for another part of the page. An edit makes it old at once. */
const FRESH_MS = 1000;

/** An ended session shows in the page, which asks to sign in and keeps what was typed. */
const onError = (error: Error) => {
  if (error instanceof CallError && error.status === 401) signedOut.set(true);
};

const client = new QueryClient({
  queryCache: new QueryCache({ onError }),
  mutationCache: new MutationCache({ onError }),
  defaultOptions: {
    queries: {
      staleTime: FRESH_MS,
      // Any other refusal would stay the same.
      retry: (times, error) => isPassing(error) && times < 2,
      retryDelay: RETRY_MS,
      refetchInterval: ({ state }) => (isPassing(state.error) ? RETRY_MS : false),
    },
  },
});

createRoot(document.getElementById('root') as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <App />
    </QueryClientProvider>
  </StrictMode>,
);
