import { type AnswerOf, mayAct, type Role } from '@jade-fence/contract';
import type { ClassConstructor } from 'class-transformer';
import { json, type Request, type RequestHandler, type Response, Router, raw } from 'express';
import type { RouteParameters } from 'express-serve-static-core';
import type { Knex } from 'knex';
import { Refusal } from '../fault/refusal.js';
import type { Someone } from '../people/someone.js';
import { whoAsks } from './authenticate.js';
import type { SessionCookie } from './session-cookie.js';
import { validated } from './validate.js';

export type Method = 'get' | 'post' | 'put' | 'patch' | 'delete';

/** What is known of a route beside what it does: who may call it, and what it takes. */
export interface Route<Q extends object, B extends object> {
  /** Who may call it; `anyone` without signing in. */
  readonly role: Role | 'anyone';
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

/** A route as it is told to others. */
export interface DescribedRoute extends Route<object, object> {
  readonly method: Method;
  readonly path: string;
}

/** A call, with everything that it carries validated. */
export interface Asked<P extends string, Q, B> {
  readonly request: Request;
  readonly params: Readonly<RouteParameters<P>>;
  readonly query: Q;
  readonly body: B;
  /** Empty where the route takes none, or reads it itself. */
  readonly file: Buffer;
  readonly who: Someone;
}

/** Answers what the contract says of the call. */
type Handler<M extends Method, P extends string, Q, B> = (
  asked: Asked<P, Q, B>,
  response: Response<AnswerOf<M, P>>,
) => unknown;

/** The largest body that a route takes which says nothing else. */
export const LARGEST_BODY = '64kb';

const NO_FILE = Buffer.alloc(0);

/** The routes below `/api`. Each is told who may call it and what it takes, so that neither can be forgotten. */
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

  get<P extends string, Q extends object>(
    path: P,
    route: Route<Q, object>,
    handler: Handler<'get', P, Q, object>,
  ): void {
    this.#add('get', path, route, handler);
  }

  post<P extends string, Q extends object, B extends object>(
    path: P,
    route: Route<Q, B>,
    handler: Handler<'post', P, Q, B>,
  ): void {
    this.#add('post', path, route, handler);
  }

  put<P extends string, Q extends object, B extends object>(
    path: P,
    route: Route<Q, B>,
    handler: Handler<'put', P, Q, B>,
  ): void {
    this.#add('put', path, route, handler);
  }

  patch<P extends string, Q extends object, B extends object>(
    path: P,
    route: Route<Q, B>,
    handler: Handler<'patch', P, Q, B>,
  ): void {
    this.#add('patch', path, route, handler);
  }

  delete<P extends string, Q extends object>(
    path: P,
    route: Route<Q, object>,
    handler: Handler<'delete', P, Q, object>,
  ): void {
    this.#add('delete', path, route, handler);
  }

  #add<M extends Method, P extends string, Q extends object, B extends object>(
    method: M,
    path: P,
    route: Route<Q, B>,
    handler: Handler<M, P, Q, B>,
  ): void {
    this.#routes.push({ ...route, method, path } as DescribedRoute);
    const { role, query, body, file, largest = LARGEST_BODY } = route;
    const before: RequestHandler[] = [];
    if (role !== 'anyone') before.push(this.#admit(role));
    if (body) before.push(json({ limit: largest }));
    if (file !== undefined && file !== 'streamed') before.push(raw({ type: () => true, limit: file }));
    this.router[method](path, ...before, async (request, response) => {
      const asked = {
        request,
        params: request.params as RouteParameters<P>,
        query: query ? validated(query, request.query, 'query') : ({} as Q),
        body: body ? validated(body, request.body, 'body') : ({} as B),
        file: Buffer.isBuffer(request.body) ? request.body : NO_FILE,
        who: response.locals.who as Someone,
      };
      await handler(asked, response as Response<AnswerOf<M, P>>);
    });
  }

  /** Lets through who may do what needs the role. */
  #admit(needed: Role): RequestHandler {
    return async (request, response, next) => {
      const who = await whoAsks(this.#knex, this.#cookie, request);
      if (!mayAct(who.role, needed))
        throw new Refusal('forbidden', 'role-too-low', `This is for a ${needed}; ${who.name} calls as ${who.role}.`, {
          remedy: 'Ask an administrator for the role, or take a token that has it.',
        });
      response.locals.who = who;
      next();
    };
  }
}
