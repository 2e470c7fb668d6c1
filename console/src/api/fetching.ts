import { keepPreviousData, type Query, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { call } from './call.js';

/** What never changes once it is there, so that nothing has it fetched again. */
const FOREVER = new Set(['report', 'requests', 'explained', 'effect']);
/** Whether what a query fetched may be another by now. */
export const mayChange = ({ queryKey }: Query): boolean => !FOREVER.has(String(queryKey[0]));

/** Fetches what a path leads to; nothing where it is undefined. */
export function useFetched<T>(
  path: string | undefined,
  { every, keep = false }: { readonly every?: number; readonly keep?: boolean } = {},
) {
  return useQuery({
    queryKey: ['fetched', path],
    queryFn: () => call<T>('GET', path as string),
    enabled: path !== undefined,
    ...(every !== undefined && { refetchInterval: every }),
    ...(keep && { placeholderData: keepPreviousData }),
  });
}

/** Does something that changes what is shown elsewhere, which is fetched anew. */
export function useDeed<G, T>(act: (given: G) => Promise<T>) {
  const client = useQueryClient();
  const fetchAnew = async () => {
    // What is under way was asked for before the deed; of a first answer that is, nothing would be asked anew.
    await client.cancelQueries({ predicate: mayChange });
    await client.invalidateQueries({ predicate: mayChange });
  };
  return useMutation({
    mutationFn: act,
    onSettled: async (_, error) => {
      const anew = fetchAnew();
      // What failed is told at once: where the service is away, all else waits until it is back.
      if (!error) await anew;
    },
  });
}
