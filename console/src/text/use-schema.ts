import { pathOf } from '@jade-fence/contract';
import { useQuery } from '@tanstack/react-query';
import type { Schema } from './schema-options.js';

/** The JSON Schema of the workspace; undefined until it is there, without which nothing is offered. */
export function useSchema(): Schema | undefined {
  return useQuery({
    queryKey: ['schema'],
    queryFn: async () => {
      const response = await fetch(pathOf('GET /workspace/schema.json'));
      if (!response.ok) throw new Error('The schema of the workspace cannot be fetched.');
      return (await response.json()) as Schema;
    },
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  }).data;
}
