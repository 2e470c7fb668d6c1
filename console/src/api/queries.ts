import { type FilterQuery, whole } from '@jade-fence/contract';
import { keepPreviousData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { signedOut } from '../sign-in/signed-out.js';
import { call } from './call.js';
import { isUnderWay } from './progress.js';

/** Replays report their progress by events; this is for when these do not come. */
const POLL_MS = 2000;
const EMPTY_POLL_MS = 3000;
/** Others may bring logs, too. */
const IMPORTS_POLL_MS = 5000;
const PAGE_ROWS = 100;

export function useWorkspace() {
  return useQuery({
    queryKey: ['workspace'],
    queryFn: () => call('GET /workspace'),
    // An empty workspace is fetched again until there is something to show.
    refetchInterval: ({ state }) => (state.data?.policies.length === 0 ? EMPTY_POLL_MS : false),
  });
}

export function usePolicy(name: string) {
  return useQuery({
    queryKey: ['policy', name],
    queryFn: () => call('GET /policies/:name', { params: { name } }),
  });
}

export function useLogs() {
  return useQuery({
    queryKey: ['logs'],
    queryFn: () => whole<'GET /logs'>((page) => call('GET /logs', page), {}),
    refetchInterval: ({ state }) => (state.data?.logs.length === 0 ? EMPTY_POLL_MS : false),
  });
}

/** The replays, the newest first; fetched again and again while one runs or there is none. */
export function useReplays() {
  return useQuery({
    queryKey: ['replays'],
    queryFn: () => call('GET /replays'),
    refetchInterval: ({ state }) => (state.data?.replays.some(isUnderWay) ? POLL_MS : false),
  });
}

/** The imports of logs, the newest first; fetched more often while one is under way. */
export function useImports() {
  return useQuery({
    queryKey: ['imports'],
    queryFn: () => call('GET /imports', { query: { limit: 50 } }),
    refetchInterval: ({ state }) => (state.data?.imports.some(isUnderWay) ? POLL_MS : IMPORTS_POLL_MS),
  });
}

export function useReport(replay: number | undefined) {
  return useQuery({
    queryKey: ['report', replay],
    queryFn: () => call('GET /replays/:id/report', { params: { id: replay as number } }),
    enabled: replay !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Which requests; undefined: none are fetched. */
type Asked = { readonly [K in keyof FilterQuery]: FilterQuery[K] | undefined };

/** The requests of a replay that the query selects, page by page. */
export function useRequests(replay: number, query: Asked) {
  return useInfiniteQuery({
    queryKey: ['requests', replay, query],
    queryFn: ({ pageParam }) =>
      call('GET /replays/:id/requests', {
        params: { id: replay },
        query: { ...query, after: pageParam, limit: PAGE_ROWS },
      }),
    initialPageParam: 0,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    // Pages are large and never change, so that comparing them with those before is of no use.
    structuralSharing: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

export function useExplained(replay: number, number: number) {
  return useQuery({
    queryKey: ['explained', replay, number],
    queryFn: () => call('GET /replays/:id/requests/:number', { params: { id: replay, number } }),
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
  });
}

export function useStartReplay() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (log: string) => call('POST /replays', { body: { log } }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['replays'] }),
  });
}

export function useCancelReplay() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: number) => call('POST /replays/:id/cancel', { params: { id } }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['replays'] }),
  });
}

export function useSignIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (given: { readonly key: string } | { readonly name: string; readonly password: string }) =>
      call('POST /session', { body: given }),
    onSuccess: () => {
      signedOut.set(false);
      return client.invalidateQueries();
    },
  });
}

export function useSignOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => call('DELETE /session'),
    onSuccess: () => {
      client.clear();
      // What was written and not kept is of whoever wrote it.
      sessionStorage.clear();
      location.assign('/');
    },
  });
}
