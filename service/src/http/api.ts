import { type AnswerOf, type CallName, MAY_CALL, mayAct, type ParamsOf, type Role } from '@jade-fence/contract';
import type { ClassConstructor } from 'class-transformer';
import { json, type Request, type RequestHandler, type Response, Router, raw } from 'express';
import type { Knex } from 'knex';
import { refusal } from '../fault/refusal.js';
import type { Someone } from '../people/someone.js';
import { whoAsks } from './authenticate.js';
import { linksNext } from './links-next.js';
import type { SessionCookie } from './session-cookie.js';
import { validated } from './validate.js';

/** What is known of a route beside what the contract says of its call. */
export interface Route<Q extends object, B extends object> {
  /** What it does, in a sentence. */
  readonly does: string;
  readonly query?: ClassConstructor<Q>;
  readonly body?: ClassConstructor<B>;
  /** The largest body that it takes, as `64kb`. */
  readonly largest?: string;
  /** The body is a file: the largest that is taken, as `64mb`, or `streamed` where the route reads it itself. */
  readonly file?: string;
  /** The status where all goes well, and what then comes back. Default: 200 and JSON. */
  readonly status?: number;
  readonly type?: string;
}

/** A route, for listings. */
export interface DescribedRoute extends Route<object, object> {
  readonly call: CallName;
}

/** A call, with everything that it carries validated. */
export interface Asked<C extends CallName, Q, B> {
  readonly request: Request;
  readonly params: ParamsOf<C>;
  readonly query: Q;
  readonly body: B;
  /** Empty where the route takes none, or reads it itself. */
  readonly file: Buffer;
  readonly who: Someone;
}

/** Answers what the contract says of the call. */
type Handler<C extends CallName, Q, B> = (asked: Asked<C, Q, B>, response: Response<AnswerOf<C>>) => unknown;

type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';

/** The largest body that a route takes which says nothing else. */
export const LARGEST_BODY = '64kb';

const NO_FILE = Buffer.alloc(0);

/** The routes below `API`, one for each call of the contract. */
export class Api {
  readonly router = Router();
  readonly #knex: Knex;
  readonly #cookie: SessionCookie;
  readonly #routes: DescribedRoute[] = [];

  constructor(knex: Knex, cookie: SessionCookie) {
    this.#knex = knex;
    this.#cookie = cookie;
  }

  get routes(): readonly DescribedRoute[] {
    return this.#routes;
  }

  /** Answers a call of the contract. Who may make it is settled before the handler, and what it carries is validated. */
  add<C extends CallName, Q extends object, B extends object>(
    call: C,
    route: Route<Q, B>,
    handler: Handler<C, Q, B>,
  ): void {
    this.#routes.push({ ...route, call } as DescribedRoute);
    const { query, body, file, largest = LARGEST_BODY } = route;
    const needed = MAY_CALL[call];
    const before: RequestHandler[] = [];
    if (needed !== 'anyone') before.push(this.#admit(needed));
    if (body) before.push(json({ limit: largest }));
    if (file !== undefined && file !== 'streamed') before.push(raw({ type: () => true, limit: file }));
    const [method = '', path = ''] = call.split(' ');
    this.router[method.toLowerCase() as Method](path, ...before, linksNext, async (request, response) => {
      const asked = {
        request,
        params: request.params as ParamsOf<C>,
        query: query ? validated(query, request.query, 'query') : ({} as Q),
        body: body ? validated(body, request.body, 'body') : ({} as B),
        file: Buffer.isBuffer(request.body) ? request.body : NO_FILE,
        who: response.locals.who as Someone,
      };
      await handler(asked, response as Response<AnswerOf<C>>);
    });
  }

  /** Lets through who may do what needs the role. */
  #admit(needed: Role): RequestHandler {
    return async (request, response, next) => {
      const who = await whoAsks(this.#knex, this.#cookie, request);
      if (!mayAct(who.role, needed)) throw refusal('role-too-low', { needed, name: who.name, role: who.role });
      response.locals.who = who;
      next();
    };
  }
}
