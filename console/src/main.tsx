import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { CallError } from './api/call.js';
import { App } from './app.js';
import { signedOut } from './sign-in/signed-out.js';
import './styles.css';

const RETRY_MS = 2000;

/** A session that ended is told to the page, which asks to sign in and keeps what was typed. */
const onError = (error: Error) => {
  if (error instanceof CallError && error.status === 401) signedOut.set(true);
};

const client = new QueryClient({
  queryCache: new QueryCache({ onError }),
  mutationCache: new MutationCache({ onError }),
  defaultOptions: {
    queries: {
      // Only a service that does not answer is asked again by itself; a refusal would stay the same.
      retry: (times, error) => error instanceof CallError && error.status === 0 && times < 2,
      retryDelay: RETRY_MS,
      refetchInterval: ({ state }) => (state.error instanceof CallError && state.error.status === 0 ? RETRY_MS : false),
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
