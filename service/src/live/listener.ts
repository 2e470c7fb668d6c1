import type { IncomingMessage, ServerResponse } from 'node:http';
import {
  formatAddress,
  type LiveDecision,
  makeRequest,
  normalPath,
  parseAddress,
  type Request,
  readRequest,
  splitTarget,
  tellLineFault,
  tryHost,
} from '@jade-fence/core';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { isDatabaseLost } from '../database/faults.js';
import { Problem, problemBody } from '../http/problem.js';
import { SignInThrottle } from '../people/throttle.js';
import { whoHasToken } from '../people/tokens.js';
import { answerOf, decisionText, pageOf } from './answer.js';
import { grantFor } from './grant.js';
import type { Grants } from './grants.js';
import type { InForce, LiveRules } from './live-rules.js';
import type { Recorder } from './recorder.js';

const LARGEST_BODY = 64 * 1024;
/** A token that was right is not looked up again for so long. */
const TOKEN_MS = 5000;
/** While the database is away, for so long. */
const TOKEN_LEFT_MS = 15 * 60_000;
const MOST_TOKENS = 1000;

const DECIDE = '/decide';
const GRANTS = '/decide/grants';
const GATE = '/gate';
/** The cookie that a client keeps its grants in, parted by `~`. */
const GRANT_COOKIE = 'jade_fence_grants';

export interface LiveParts {
  readonly knex: Knex;
  readonly rules: LiveRules;
  readonly recorder: Recorder;
  readonly grants: Grants;
  readonly logger: Logger;
}

/**
 * Answers gateways, in front of all else, since every request of a site waits for it. `POST /decide` takes a request in
 * the fields of our JSON Lines form; `/gate` takes the original request in headers, as gateways that ask before they let
 * through send it, and answers with the status to act on. Answers whether the call was for it.
 */
export function liveListener({
  knex,
  rules,
  recorder,
  grants,
  logger,
}: LiveParts): (request: IncomingMessage, response: ServerResponse) => boolean {
  const known = new Map<string, number>();
  const throttle = new SignInThrottle();

  const isKnown = (authorization: string): boolean => (known.get(authorization) ?? 0) > Date.now();
  const admit = async (authorization: string): Promise<void> => {
    const token = /^Bearer (\S{1,200})$/i.exec(authorization)?.[1];
    // A site does not stand still because the database does: who was right lately is let in until it can be asked.
    const lately = (known.get(authorization) ?? 0) > Date.now() - TOKEN_LEFT_MS;
    const who = token === undefined ? undefined : whoHasToken(knex, token);
    const right = await who?.catch((error) => {
      if (lately && isDatabaseLost(error)) return true;
      throw error;
    });
    if (!right)
      throw new Problem(401, 'sign-in-required', 'A gateway asks with a token.', {
        remedy:
          'Make one with `jade-fence token make gateway --role viewer`, and send it as `Authorization: Bearer TOKEN`.',
      });
    if (known.size >= MOST_TOKENS) known.clear();
    known.set(authorization, Date.now() + TOKEN_MS);
  };

  const inForce = (): InForce => {
    const { current } = rules;
    if (current) return current;
    throw new Problem(503, 'nothing-published', 'No rules are in force yet.', { remedy: 'Publish the draft.' });
  };

  /** The request with the rules that its grants are for. */
  const granted = (current: InForce, request: Request, some: readonly string[]): Request => {
    const policy = some.length > 0 ? current.live.policyFor(request) : undefined;
    const address = policy && current.live.clientOf(request, policy).address;
    return address ? { ...request, met: grants.met(some, formatAddress(address), Date.now()) } : request;
  };

  const decided = (current: InForce, request: Request): LiveDecision => {
    const decision = current.live.decide(request, request.time ?? Date.now());
    recorder.note(current, decision, request);
    return decision;
  };

  const decide = (body: Buffer, response: ServerResponse): void => {
    const current = inForce();
    const { fields, some } = partsOf(body);
    // Requests are judged by our clock, whatever they tell.
    const request = granted(current, requestOf(fields, Date.now()), some);
    const decision = decided(current, request);
    send(response, 200, 'application/json', decisionText(current, decision, request, grants));
  };

  const grant = async (body: Buffer, response: ServerResponse): Promise<void> => {
    const current = inForce();
    const { request, ...given } = objectOf(body);
    const made = await grantFor({ knex, grants, throttle }, current, requestOf(fieldsOf(request)), given);
    send(response, 201, 'application/json', JSON.stringify(made));
  };

  const gate = (call: IncomingMessage, response: ServerResponse): void => {
    const current = inForce();
    const request = granted(current, forwardedRequest(call), grantsIn(call));
    const decision = decided(current, request);
    response.setHeader('x-jade-fence-revision', current.revision);
    response.setHeader(
      'x-jade-fence-rule',
      decision.policy ? `${decision.policy.name}/${decision.rule?.name ?? 'default'}` : 'uncovered',
    );
    if (decision.effect === 'allow') return void response.writeHead(204).end();
    const { status, location, notice } = answerOf(current, decision, request, grants);
    if (location !== undefined) response.setHeader('location', location);
    const page = /text\/html/i.test(call.headers.accept ?? '') ? pageOf(current, decision, request) : undefined;
    if (page !== undefined) send(response, status, 'text/html; charset=utf-8', page);
    else if (notice) send(response, status, 'application/problem+json', JSON.stringify(notice));
    else response.writeHead(status).end();
  };

  const failed = (error: unknown, response: ServerResponse): void => {
    const problem =
      error instanceof Problem
        ? error
        : new Problem(500, 'internal', 'Something went wrong in the service; its log says what.');
    if (!(error instanceof Problem)) logger.error({ err: error }, 'a decision failed');
    if (!response.headersSent)
      send(response, problem.status, 'application/problem+json', JSON.stringify(problemBody(problem)));
  };

  const answer = async (
    call: IncomingMessage,
    response: ServerResponse,
    act: () => void | Promise<void>,
  ): Promise<void> => {
    try {
      const authorization = call.headers.authorization ?? '';
      if (!isKnown(authorization)) await admit(authorization);
      await act();
    } catch (error) {
      failed(error, response);
    }
  };

  return (call, response) => {
    if (call.url === DECIDE && call.method === 'POST') {
      withBody(call, response, (body) => {
        // The usual way takes no turn of the event loop.
        if (!isKnown(call.headers.authorization ?? ''))
          return void answer(call, response, () => decide(body, response));
        try {
          decide(body, response);
        } catch (error) {
          failed(error, response);
        }
      });
      return true;
    }
    if (call.url === GRANTS && call.method === 'POST') {
      withBody(call, response, (body) => void answer(call, response, () => grant(body, response)));
      return true;
    }
    if (call.url !== GATE) return false;
    call.resume();
    void answer(call, response, () => gate(call, response));
    return true;
  };
}

function send(response: ServerResponse, status: number, type: string, body: string): void {
  const length = String(Buffer.byteLength(body));
  response.writeHead(status, ['content-type', type, 'content-length', length, 'cache-control', 'no-store']);
  response.end(body);
}

function withBody(call: IncomingMessage, response: ServerResponse, use: (body: Buffer) => void): void {
  // Most bodies come in one piece with their headers, and are there by now; these need not be listened for.
  process.nextTick(() => {
    const length = call.readableLength;
    if (length > 0 && String(length) === call.headers['content-length']) took(call.read(), response, use);
    else gather(call, response, use);
  });
}

function took(body: Buffer, response: ServerResponse, use: (body: Buffer) => void): void {
  if (body.length <= LARGEST_BODY) return void use(body);
  const problem = new Problem(413, 'body-too-large', 'The body is larger than this call takes.');
  send(response, 413, 'application/problem+json', JSON.stringify(problemBody(problem)));
}

function gather(call: IncomingMessage, response: ServerResponse, use: (body: Buffer) => void): void {
  const pieces: Buffer[] = [];
  let size = 0;
  call.on('data', (piece: Buffer) => {
    // One piece too many is kept, and tells that the body is too large.
    if (size <= LARGEST_BODY) pieces.push(piece);
    size += piece.length;
  });
  call.on('end', () => took(Buffer.concat(pieces), response, use));
}

const NO_GRANTS: readonly string[] = [];

/** The fields of a request, and the grants beside them. */
function partsOf(body: Buffer): { fields: Record<string, unknown>; some: readonly string[] } {
  const fields = objectOf(body);
  const given = fields.grants;
  if (given === undefined) return { fields, some: NO_GRANTS };
  delete fields.grants;
  return { fields, some: Array.isArray(given) ? given.filter((each) => typeof each === 'string') : [] };
}

function grantsIn({ headers }: IncomingMessage): string[] {
  const cookies = (headers.cookie ?? '').split(';').map((each) => each.trim().split('='));
  return cookies.find(([name]) => name === GRANT_COOKIE)?.[1]?.split('~') ?? [];
}

function objectOf(body: Buffer): Record<string, unknown> {
  let fields: unknown;
  try {
    fields = JSON.parse(body.toString());
  } catch {
    throw new Problem(400, 'not-json', 'The body is not JSON.');
  }
  return fieldsOf(fields);
}

function fieldsOf(value: unknown): Record<string, unknown> {
  if (value !== null && typeof value === 'object' && !Array.isArray(value)) return value as Record<string, unknown>;
  throw new Problem(400, 'not-an-object', 'The body is no JSON object.');
}

function requestOf(fields: Record<string, unknown>, at?: number): Request {
  const read = readRequest(fields, undefined, at);
  if ('fault' in read) throw new Problem(422, read.fault.code, `${tellLineFault(read.fault)}.`);
  return read.request;
}

const OWN_HEADERS =
  /^(?:x-forwarded-(?:method|proto|host|uri|for)|authorization|connection|host|content-length|x-jade-fence-.*)$/;

/**
 * The original request, told in headers: `X-Forwarded-Method`, `-Proto`, `-Host`, `-Uri`, and `-For`, whose last address
 * is the one that the gateway saw; all other headers are those of the request itself.
 */
function forwardedRequest({ headers }: IncomingMessage): Request {
  const told = (name: string) => [headers[`x-forwarded-${name}`]].flat()[0];
  const [uri, host] = [told('uri'), told('host')];
  const hops = (told('for') ?? '')
    .split(',')
    .map((hop) => hop.trim())
    .filter((hop) => hop !== '');
  const peer = parseAddress((hops.at(-1) ?? '').replace(/^\[(.*)\](?::\d+)?$/, '$1'));
  // Without its client a request would be blind to rules, or be covered by no policy.
  if (uri === undefined || host === undefined || peer === undefined)
    throw new Problem(400, 'no-original', 'The headers do not tell the original request.', {
      remedy: 'Send X-Forwarded-Method, X-Forwarded-Proto, X-Forwarded-Host, X-Forwarded-Uri and X-Forwarded-For.',
    });
  const { path, query } = splitTarget(uri.startsWith('/') ? uri : `/${uri}`);
  const [, name = host, port] = /^(.*?)(?::(\d{1,5}))?$/.exec(host) ?? [];
  const known = tryHost(name);
  // A host that cannot be read would be covered by no policy, and so be let through.
  if (!('host' in known))
    throw new Problem(400, 'bad-host', 'X-Forwarded-Host is no host.', {
      remedy: 'Refuse the request at the gateway.',
    });
  const others = Object.entries(headers).filter(([header]) => !OWN_HEADERS.test(header));
  const own = new Map(
    others.flatMap(([header, value]) => (value === undefined ? [] : ([[header, [value].flat().join(', ')]] as const))),
  );
  if (hops.length > 1) own.set('x-forwarded-for', hops.slice(0, -1).join(', '));
  return makeRequest({
    peer,
    method: (told('method') ?? 'GET').toUpperCase(),
    scheme: told('proto')?.toLowerCase(),
    host: known.host,
    port: port === undefined ? undefined : Number(port),
    path: normalPath(path),
    query: query ?? '',
    agent: own.get('user-agent') ?? '',
    referrer: own.get('referer') ?? '',
    headers: own,
    allHeaders: true,
  });
}
