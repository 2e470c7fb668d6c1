import express, { type Express, type Request, type Response } from 'express';
import { SOLVER, STYLE, sitePage, startPage, stoppedPage } from './pages.js';
import type { AskedRequest, DecidingService } from './service.js';

const SITES = [
  'tickets.fennelhill.example/whats-on',
  'tickets.fennelhill.example/back-office',
  'staging.fennelhill.example/',
  'odds.meadowbet.example/',
  'maps.hedgerow.example/',
];
const COOKIES = { probe: 'garden_probe', grants: 'jade_fence_grants' };

/**
 * A gateway with made-up sites behind it, for looking at what rules do: each page is requested as a probe, at
 * `/HOST/PATH`, and the service decides.
 */
export function createGateway(service: DecidingService): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((_request, response, next) => {
    response.set(
      'content-security-policy',
      "default-src 'none'; script-src 'self'; style-src 'self'; form-action 'self'",
    );
    next();
  });
  app.get('/-/style.css', (_request, response) => void response.type('css').send(STYLE));
  app.get('/-/solve.js', (_request, response) => void response.type('js').send(SOLVER));
  app.get('/favicon.ico', (_request, response) => void response.status(204).end());
  app.get('/-/as/:probe', (request, response) => {
    response.cookie(COOKIES.probe, request.params.probe, { httpOnly: true, sameSite: 'strict' });
    response.clearCookie(COOKIES.grants).redirect('/');
  });
  app.get('/', async (request, response) => {
    response.send(startPage(await service.probes(), cookieOf(request, COOKIES.probe), SITES));
  });

  app.post('/-/answer', express.urlencoded({ extended: false, limit: '4kb' }), async (request, response) => {
    const { target = '', yes, passcode, number } = (request.body ?? {}) as Record<string, string>;
    const asked = await requestFor(request, 'GET', target);
    const { grant, detail } = await service.grant(asked, { yes: yes !== undefined, passcode, number });
    if (grant === undefined) return answer(request, response, asked, target, detail);
    const kept = [...grantsOf(request), grant].slice(-8).join('~');
    response.cookie(COOKIES.grants, kept, { httpOnly: true, sameSite: 'strict', encode: String });
    response.redirect(303, `/${target}`);
  });

  app.use(async (request, response) => {
    const target = request.url.slice(1);
    await answer(request, response, await requestFor(request, request.method, target), target, undefined);
  });

  async function answer(
    request: Request,
    response: Response,
    asked: AskedRequest,
    target: string,
    said: string | undefined,
  ) {
    const decided = await service.decide(asked, grantsOf(request));
    if (decided.detail !== undefined) return void response.status(503).type('text').send(`${decided.detail}\n`);
    if (decided.effect === 'allow') return void response.send(sitePage(asked, decided));
    const { status = 403, location } = decided.answer ?? {};
    if (location !== undefined) return void response.redirect(status, location);
    response.status(status).send(stoppedPage(target, decided, said));
  }

  async function requestFor(request: Request, method: string, target: string): Promise<AskedRequest> {
    const probes = await service.probes();
    const peer = probes.get(cookieOf(request, COOKIES.probe) ?? '') ?? [...probes.values()][0] ?? '127.0.0.1';
    const [, host = '', path = '/', query = ''] = /^([^/?]*)(\/[^?]*)?(?:\?(.*))?$/.exec(target) ?? [];
    return { peer, method, scheme: 'https', host, path, query, agent: request.get('user-agent') ?? 'absent' };
  }
  return app;
}

const cookieOf = (request: Request, name: string): string | undefined =>
  (request.get('cookie') ?? '')
    .split(';')
    .map((each) => each.trim().split('='))
    .find(([key]) => key === name)?.[1];

const grantsOf = (request: Request): string[] => cookieOf(request, COOKIES.grants)?.split('~').filter(Boolean) ?? [];
