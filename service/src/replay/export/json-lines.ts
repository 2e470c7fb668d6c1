import type { JudgedBody } from '@jade-fence/contract';

/** Requests as JSON Lines: everything that is known of each, in the API's form. */
export async function* jsonLinesOf(requests: AsyncIterable<readonly JudgedBody[]>): AsyncGenerator<string> {
  for await (const some of requests) yield some.map((request) => `${JSON.stringify(request)}\n`).join('');
}
