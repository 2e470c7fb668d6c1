import type { RequestHandler } from 'express';

/**
 * Adds to the answer of a page a link to the next one (RFC 8288), made of the call's own URL: so does a client that knows
 * nothing of our bodies find all of a collection.
 */
export const linksNext: RequestHandler = (request, response, go) => {
  const json = response.json.bind(response);
  response.json = (body: unknown) => {
    const next = (body as { readonly next?: number | string | null } | null)?.next;
    if (request.method === 'GET' && next !== undefined && next !== null) {
      const { pathname, searchParams } = new URL(request.originalUrl, 'http://service');
      searchParams.set('after', String(next));
      response.links({ next: `${pathname}?${searchParams}` });
    }
    return json(body);
  };
  go();
};
