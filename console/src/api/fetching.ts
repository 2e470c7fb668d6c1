import { type AnswerOf, type Carried, type Carrying, type PagedCall, pathOf, whole } from '@jade-fence/contract';
import { keepPreviousData, type Query, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { call, type PlainCall } from './call.js';

/** What never changes once it is there, so that nothing has it fetched again. */
const FOREVER = new Set(['report', 'requests', 'explained', 'effect']);
/** Whether what a query fetched may be another by now. */
export const mayChange = ({ queryKey }: Query): boolean => !FOREVER.has(String(queryKey[0]));

interface Fetching {
  /** Milliseconds between two looks. Default: it is not looked again by itself. */
  readonly every?: number;
  /** Whether the answer of before is shown while another is fetched. */
  readonly keep?: boolean;
}

type Fetched = Extract<PlainCall, `GET ${string}`>;
/** What a call carries, or false where it is not to be made yet. */
type MayCarry<C extends Fetched> =
  object extends Carried<C>
    ? [carried?: Carried<C> | false, fetching?: Fetching]
    : [carried: Carried<C> | false, fetching?: Fetching];

const make = <C extends Fetched>(name: C, carried: Carried<C>): Promise<AnswerOf<C>> =>
  call(name, ...([carried] as unknown as Carrying<C>));

/** Fetches what a call answers. */
export function useFetched<C extends Fetched>(name: C, ...[carried, fetching]: MayCarry<C>) {
  return useAnswer<C>(name, carried ?? ({} as Carried<C>), fetching, (given) => make(name, given));
}

/** Fetches all pages of a collection as one answer. */
export function useWhole<C extends Fetched & PagedCall>(name: C, ...[carried, fetching]: MayCarry<C>) {
  return useAnswer<C>(name, carried ?? ({} as Carried<C>), fetching, (given) =>
    whole<C>((page) => make(name, page), given),
  );
}

function useAnswer<C extends Fetched>(
  name: C,
  carried: Carried<C> | false,
  { every, keep = false }: Fetching = {},
  ask: (carried: Carried<C>) => Promise<AnswerOf<C>>,
) {
  return useQuery({
    queryKey: ['fetched', carried === false ? name : pathOf(name, ...([carried] as unknown as Carrying<C>))],
    queryFn: () => ask(carried as Carried<C>),
    enabled: carried !== false,
    ...(every !== undefined && { refetchInterval: every }),
    ...(keep && { placeholderData: keepPreviousData }),
  });
}

/** Does something that changes what is shown elsewhere, which is fetched anew. */
export function useDeed<G, T>(act: (given: G) => Promise<T>) {
  const client = useQueryClient();
  const fetchAnew = async () => {
    // Answers under way may be from before the deed; a first answer would not be fetched again.
    await client.cancelQueries({ predicate: mayChange });
    await client.invalidateQueries({ predicate: mayChange });
  };
  return useMutation({
    mutationFn: act,
    onSettled: async (_, error) => {
      const anew = fetchAnew();
      // A failure is shown at once: when the service is away, all other fetching waits until it is back.
      if (!error) await anew;
    },
  });
}
