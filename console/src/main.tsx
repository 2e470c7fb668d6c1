import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { CallError } from './api/call.js';
import { App } from './app.js';
import './styles.css';

const RETRY_MS = 2000;

const client = new QueryClient({
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
