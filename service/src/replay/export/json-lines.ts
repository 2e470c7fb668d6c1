import type { JudgedBody } from '@jade-fence/contract';

/** Requests as JSON Lines: all that is known of each, as the API tells it. */
export async function* jsonLinesOf(requests: AsyncIterable<readonly JudgedBody[]>): AsyncGenerator<string> {
  for await (const some of requests) yield some.map((request) => `${JSON.stringify(request)}\n`).join('');
}
