import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { formatAddress } from '@jade-fence/core/address';
import type { LiveDecision } from '@jade-fence/core/live';
import type { Request } from '@jade-fence/core/request';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { Refusal, refusal } from '../../fault/refusal.js';
import { clientName, type DecidedRequest, decisionText, ruleName } from '../../live/answer.js';
import { grantFor } from '../../live/grant.js';
import type { Grants } from '../../live/grants.js';
import type { InForce } from '../../live/in-force.js';
import type { Recorder } from '../../live/recorder.js';
import { newReference } from '../../live/reference.js';
import { SignInThrottle } from '../../people/throttle.js';
import { problemBody, statusOf } from '../problem.js';
import { refusalOfCall } from '../refusal-of-call.js';
import { Admission } from './admission.js';
import { bodyAtHand, bodyOf, fieldsOf, formOf, objectOf, partsOf } from './body.js';
import { forwardedRequest, requestOf } from './forwarded-request.js';
import { grantCookie, grantsIn } from './grant-cookie.js';
import { send } from './send.js';
import { actionOf, openStopped, type Stopped, sealStopped, stoppedBy, stoppedPage, stoppedProblem } from './stopped.js';

const WAIT_MS = 5000;
/** Gateways that understand only that, such as those that let through on 2xx and stop on 401 and 403. */
const PLAIN_ANSWER = '?answer=403';

export interface GateParts {
  readonly knex: Knex;
  readonly urgent: Knex;
  /** Undefined while nothing is in force. */
  readonly rules: { readonly current: InForce | undefined };
  readonly recorder: Pick<Recorder, 'note'>;
  readonly grants: Grants;
  readonly logger: Logger;
  /** The hashes of tokens that are right while the database cannot be asked, and until when (milliseconds). */
  readonly kept?: ReadonlyMap<string, number> | undefined;
}

/** The listener, and a way to have it decide by something else from the next call on. */
export interface GateServer {
  readonly server: Server;
  use(parts: GateParts): void;
}

type Handler = (call: IncomingMessage, response: ServerResponse, body: Buffer) => void | Promise<void>;

/**
 * The listener of live decisions, apart from all else of the service: whoever asks it takes 2xx for "go on", so that it
 * answers 2xx for nothing but a decision. It knows these paths, to the letter, and says 404 to anything else:
 * `POST /decide` and `/decide/grants` in JSON; `GET /gate` and `/gate?answer=403` for gateways that send the original
 * request in headers; `GET` and `POST /notice/…`, what a stopped client is shown, and gives.
 */
export function gateServer(parts: GateParts): GateServer {
  let gate = new Gate(parts);
  const server = createServer({ requestTimeout: WAIT_MS, headersTimeout: WAIT_MS, connectionsCheckingInterval: 1000 });
  server.on('request', (call, response) => gate.take(call, response));
  // A client that asks first (`Expect`) is asked to continue only once it is admitted, when its body is read.
  server.on('checkContinue', (call, response) => gate.take(call, response));
  const use = (next: GateParts) => {
    gate = new Gate(next);
  };
  return { server, use };
}

class Gate {
  readonly #parts: GateParts;
  readonly #admission: Admission;
  readonly #throttle: SignInThrottle;

  constructor(parts: GateParts) {
    this.#parts = parts;
    this.#admission = new Admission(parts.urgent, parts.kept);
    this.#throttle = new SignInThrottle(parts.urgent);
  }

  take(call: IncomingMessage, response: ServerResponse): void {
    const handler = this.#handlerFor(call);
    const { authorization } = call.headers;
    if (handler && call.method === 'POST' && this.#admission.knows(authorization)) {
      // The usual way takes no turn of the event loop beyond the one by which the body is there.
      process.nextTick(() => {
        const body = bodyAtHand(call);
        if (body === undefined) void this.#run(handler, call, response);
        else this.#now(handler, call, response, body);
      });
      return;
    }
    void this.#run(handler ?? notFound, call, response);
  }

  #handlerFor({ method, url = '' }: IncomingMessage): Handler | undefined {
    if (method === 'POST') {
      if (url === '/decide') return this.#decide;
      if (url === '/decide/grants') return this.#grant;
      if (NOTICE.test(url)) return this.#given;
    } else if (method === 'GET') {
      if (url === '/gate') return this.#gate;
      if (url === `/gate${PLAIN_ANSWER}`) return this.#plainGate;
      if (NOTICE.test(url)) return this.#notice;
    }
    return undefined;
  }

  #now(handler: Handler, call: IncomingMessage, response: ServerResponse, body: Buffer): void {
    try {
      const done = handler(call, response, body);
      if (done) done.catch((error) => this.#failed(error, call, response));
    } catch (error) {
      this.#failed(error, call, response);
    }
  }

  /** Admits the call before its body is read. */
  async #run(handler: Handler, call: IncomingMessage, response: ServerResponse): Promise<void> {
    try {
      if (handler === notFound) return void notFound(call, response, NO_BODY);
      await this.#admission.admit(call.headers.authorization);
      if (call.method !== 'POST') call.resume();
      else if (call.headers.expect !== undefined) response.writeContinue();
      await handler(call, response, call.method === 'POST' ? await bodyOf(call) : NO_BODY);
    } catch (error) {
      this.#failed(error, call, response);
    }
  }

  #failed(error: unknown, call: IncomingMessage, response: ServerResponse): void {
    const refusal = refusalOfCall(error);
    const status = statusOf(refusal);
    if (refusal.reason === 'broken') this.#parts.logger.error({ err: error }, 'a decision failed');
    if (response.headersSent) return void response.destroy();
    // What is still to come of a body is not waited for.
    if (!call.complete) response.setHeader('connection', 'close');
    const plain = call.url === `/gate${PLAIN_ANSWER}`;
    if (plain) {
      const failure = { ...FAILED, status };
      response.setHeader('x-jade-fence-status', status);
      response.setHeader('x-jade-fence-notice', `/notice/${sealStopped(this.#parts.grants, failure)}`);
    }
    const text = JSON.stringify(problemBody(refusal));
    send(response, plain ? 403 : status, 'application/problem+json', text);
    if (!call.complete) response.once('finish', () => call.destroy());
  }

  #inForce(): InForce {
    const { current } = this.#parts.rules;
    if (current) return current;
    throw refusal('nothing-in-force');
  }

  /** The request with the rules that its grants are for. */
  #granted({ live }: InForce, request: Request, some: readonly string[]): Request {
    const policy = some.length > 0 ? live.policyFor(request) : undefined;
    const address = policy && live.clientOf(request, policy).address;
    return address ? { ...request, met: this.#parts.grants.met(some, formatAddress(address), Date.now()) } : request;
  }

  #decided(current: InForce, request: Request): { readonly decision: LiveDecision; readonly decided: DecidedRequest } {
    const decision = current.live.decide(request, Date.now(), performance.now());
    const decided = { request, reference: decision.effect === 'allow' ? undefined : newReference() };
    this.#parts.recorder.note(current, decision, decided);
    return { decision, decided };
  }

  readonly #decide: Handler = (_call, response, body) => {
    const current = this.#inForce();
    const { fields, some } = partsOf(body);
    // Requests are judged by our clock, whatever time they claim.
    const request = this.#granted(current, requestOf(fields, Date.now()), some);
    const { decision, decided } = this.#decided(current, request);
    send(response, 200, 'application/json', decisionText(current, decision, decided, this.#parts.grants));
  };

  readonly #grant: Handler = async (_call, response, body) => {
    const current = this.#inForce();
    const { request: fields, ...given } = objectOf(body);
    const request = requestOf(fieldsOf(fields));
    const decision = current.live.judge(request, Date.now(), performance.now());
    const asking = {
      rule: ruleName(decision),
      client: clientName(current, decision, request),
      action: decision.action,
    };
    const { grant, until } = await grantFor(this.#granting, asking, given);
    send(response, 201, 'application/json', JSON.stringify({ grant, until: new Date(until).toISOString() }));
  };

  get #granting() {
    const { knex, grants, logger } = this.#parts;
    return { knex, grants, logger, throttle: this.#throttle };
  }

  readonly #gate: Handler = (call, response) => {
    const { current, stopped } = this.#ask(call, response);
    if (stopped === undefined) return void response.writeHead(204).end();
    this.#show(response, current, stopped, sealStopped(this.#parts.grants, stopped), call.headers.accept, false);
  };

  readonly #plainGate: Handler = (call, response) => {
    const { stopped } = this.#ask(call, response);
    if (stopped === undefined) return void response.writeHead(204).end();
    response.setHeader('x-jade-fence-status', stopped.status);
    if (stopped.location !== undefined) response.setHeader('x-jade-fence-location', stopped.location);
    response.setHeader('x-jade-fence-notice', `/notice/${sealStopped(this.#parts.grants, stopped)}`);
    response.writeHead(403).end();
  };

  #ask(call: IncomingMessage, response: ServerResponse): { current: InForce; stopped: Stopped | undefined } {
    const current = this.#inForce();
    const request = this.#granted(current, forwardedRequest(call.headers), grantsIn(call));
    const { decision, decided } = this.#decided(current, request);
    const { reference } = decided;
    response.setHeader('cache-control', 'no-store');
    response.setHeader('x-jade-fence-revision', current.revision);
    response.setHeader('x-jade-fence-rule', decision.policy ? ruleName(decision) : 'uncovered');
    if (reference === undefined) return { current, stopped: undefined };
    response.setHeader('x-jade-fence-request', reference);
    return { current, stopped: stoppedBy(current, decision, { request, reference }, this.#parts.grants).stopped };
  }

  readonly #notice: Handler = (call, response) => {
    const sealed = sealedIn(call);
    const stopped = openStopped(this.#parts.grants, sealed);
    if (stopped === undefined) throw overNotice();
    this.#show(response, this.#inForce(), stopped, sealed, call.headers.accept, false);
  };

  readonly #given: Handler = async (call, response, body) => {
    const current = this.#inForce();
    const sealed = sealedIn(call);
    const stopped = openStopped(this.#parts.grants, sealed);
    if (stopped === undefined) throw overNotice();
    const { rule, client } = stopped;
    try {
      const asking = { rule, client, action: actionOf(current, stopped) };
      const { grant, until } = await grantFor(this.#granting, asking, formOf(body));
      response.setHeader('set-cookie', grantCookie([...grantsIn(call), grant], until, stopped.secure));
      response.writeHead(303, { location: stopped.back, 'cache-control': 'no-store' }).end();
    } catch (error) {
      if (!(error instanceof Refusal) || error.code !== 'not-met') throw error;
      this.#show(response, current, stopped, sealed, 'text/html', true);
    }
  };

  /** Shows a stopped client what it is to see; never with a status that a gateway takes for "go on". */
  #show(
    response: ServerResponse,
    current: InForce,
    stopped: Stopped,
    sealed: string,
    accept: string | undefined,
    wrong: boolean,
  ): void {
    if (stopped.location !== undefined) {
      const headers = { location: stopped.location, 'cache-control': 'no-store' };
      response.writeHead(stopped.status, headers).end();
      return;
    }
    if (!/text\/html/i.test(accept ?? '')) {
      const problem = stoppedProblem(current, stopped) ?? { type: 'about:blank', status: stopped.status };
      send(response, stopped.status, 'application/problem+json', JSON.stringify(problem));
      return;
    }
    const { html, scriptNonce } = stoppedPage(current, stopped, { grants: this.#parts.grants, sealed, wrong });
    const scripts = scriptNonce === undefined ? '' : `; script-src 'nonce-${scriptNonce}'`;
    response.setHeader(
      'content-security-policy',
      `default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'${scripts}`,
    );
    send(response, stopped.status, 'text/html; charset=utf-8', html);
  }
}

/** What a client is shown where no decision could be made. */
const FAILED = { location: undefined, rule: '', notice: undefined, facts: {}, client: '', back: '/', secure: false };
const NO_BODY = Buffer.alloc(0);
const NOTICE = /^\/notice\/[A-Za-z0-9_-]{1,8000}\.[A-Za-z0-9_-]{1,100}$/;
const sealedIn = ({ url = '' }: IncomingMessage): string => url.slice('/notice/'.length);

const notFound: Handler = (call, response) => {
  const problem = refusal('unknown-route/gate');
  response.setHeader('connection', 'close');
  send(response, 404, 'application/problem+json', JSON.stringify(problemBody(problem)));
  if (!call.complete) response.once('finish', () => call.destroy());
};

const overNotice = (): Refusal => refusal('notice-over');
