import type {
  ExplainedJudgedBody,
  ImportBody,
  LogBody,
  PolicyBody,
  ReplayBody,
  RequestsPage,
  WorkspaceBody,
} from '@jade-fence/contract';
import type { Report } from '@jade-fence/core';
import { keepPreviousData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { signedOut } from '../sign-in/signed-out.js';
import { call } from './call.js';
import { isUnderWay } from './progress.js';

/** Replays tell their progress by events; this is for when these do not come. */
const POLL_MS = 2000;
const EMPTY_POLL_MS = 3000;
/** Others may bring logs, too. */
const IMPORTS_POLL_MS = 5000;
const PAGE_ROWS = 100;

export function useWorkspace() {
  return useQuery({
    queryKey: ['workspace'],
    queryFn: () => call<WorkspaceBody>('GET', '/api/workspace'),
    // An empty workspace is asked for until there is something to show.
    refetchInterval: ({ state }) => (state.data?.policies.length === 0 ? EMPTY_POLL_MS : false),
  });
}

export function usePolicy(name: string) {
  return useQuery({
    queryKey: ['policy', name],
    queryFn: () => call<PolicyBody>('GET', `/api/policies/${encodeURIComponent(name)}`),
  });
}

export function useLogs() {
  return useQuery({
    queryKey: ['logs'],
    queryFn: () => call<{ logs: LogBody[] }>('GET', '/api/logs'),
    refetchInterval: ({ state }) => (state.data?.logs.length === 0 ? EMPTY_POLL_MS : false),
  });
}

/** The replays, the newest first; asked for again and again while one runs or there is none. */
export function useReplays() {
  return useQuery({
    queryKey: ['replays'],
    queryFn: () => call<{ replays: ReplayBody[] }>('GET', '/api/replays'),
    refetchInterval: ({ state }) => (state.data?.replays.some(isUnderWay) ? POLL_MS : false),
  });
}

/** The imports of logs, the newest first; asked for more often while one is under way. */
export function useImports() {
  return useQuery({
    queryKey: ['imports'],
    queryFn: () => call<{ imports: ImportBody[] }>('GET', '/api/imports?limit=50'),
    refetchInterval: ({ state }) => (state.data?.imports.some(isUnderWay) ? POLL_MS : IMPORTS_POLL_MS),
  });
}

export function useReport(replay: number | undefined) {
  return useQuery({
    queryKey: ['report', replay],
    queryFn: () => call<Report>('GET', `/api/replays/${replay}/report`),
    enabled: replay !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

export interface RequestsQuery {
  readonly policy?: string | undefined;
  readonly rule?: string | undefined;
  readonly role?: string | undefined;
  readonly verdict?: string | undefined;
  readonly country?: string | undefined;
  readonly host?: string | undefined;
  readonly from?: string | undefined;
  readonly to?: string | undefined;
}

/** The requests of a replay that the query asks for, page by page. */
export function useRequests(replay: number, query: RequestsQuery) {
  return useInfiniteQuery({
    queryKey: ['requests', replay, query],
    queryFn: ({ pageParam }) =>
      call<RequestsPage>('GET', `/api/replays/${replay}/requests?${searchOf(query, pageParam)}`),
    initialPageParam: 0,
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    // Pages are large and never change, so that comparing them with those before is of no use.
    structuralSharing: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

function searchOf(query: RequestsQuery, after: number): string {
  const given = Object.entries(query).filter((entry): entry is [string, string] => entry[1] !== undefined);
  return new URLSearchParams([...given, ['after', String(after)], ['limit', String(PAGE_ROWS)]]).toString();
}

export function useExplained(replay: number, number: number) {
  return useQuery({
    queryKey: ['explained', replay, number],
    queryFn: () => call<ExplainedJudgedBody>('GET', `/api/replays/${replay}/requests/${number}`),
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
  });
}

export function useStartReplay() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (log: string) => call<ReplayBody>('POST', '/api/replays', { log }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['replays'] }),
  });
}

export function useCancelReplay() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: number) => call<ReplayBody>('POST', `/api/replays/${id}/cancel`, {}),
    onSuccess: () => client.invalidateQueries({ queryKey: ['replays'] }),
  });
}

export function useSignIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (given: { readonly key: string } | { readonly name: string; readonly password: string }) =>
      call<unknown>('POST', '/api/session', given),
    onSuccess: () => {
      signedOut.set(false);
      return client.invalidateQueries();
    },
  });
}

export function useSignOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => call<void>('DELETE', '/api/session'),
    onSuccess: () => {
      client.clear();
      // What was written and not kept is of whoever wrote it.
      sessionStorage.clear();
      location.assign('/');
    },
  });
}
