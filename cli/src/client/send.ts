import { EXIT, type ExitCode } from '../exit-code.js';
import { Failure, type FailureBody, failure } from '../failure.js';

/** What goes to a service, its path from the root of the service. */
export interface Sending {
  readonly method: string;
  readonly path: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly body: string | Uint8Array<ArrayBuffer> | undefined;
}

/** Sends to the service at a URL, and answers its response. Whatever is not a success becomes a `Failure`. */
export async function send(
  base: string,
  { method, path, headers, body }: Sending,
  signal: AbortSignal | null = null,
): Promise<Response> {
  const response = await reached(base, () =>
    fetch(`${base}${path}`, { method, headers, signal, ...(body !== undefined && { body }) }),
  );
  if (response.ok) return response;
  throw failureOf(response.status, await reached(base, () => response.text()));
}

/** What a response says; undefined where it says nothing. */
export async function answerOf<T>(base: string, response: Response): Promise<T> {
  const text = await reached(base, () => response.text());
  return text === '' ? (undefined as T) : answerIn<T>(response.status, text);
}

/** The answer in the text of a response. */
export function answerIn<T>(status: number, text: string): T {
  try {
    return JSON.parse(text) as T;
  } catch {
    throw failure(EXIT.service, 'not-our-service', { status });
  }
}

/** What comes over the network, or the failure that nothing came, or not all of it. */
async function reached<T>(base: string, get: () => Promise<T>): Promise<T> {
  try {
    return await get();
  } catch (error) {
    throw unreachable(base, (error as { cause?: { code?: string } }).cause?.code);
  }
}

/** The failure in an answer of the service. */
export function failureOf(status: number, text: string): Failure {
  try {
    const body = JSON.parse(text) as FailureBody;
    if (typeof body.detail === 'string') return new Failure(exitCodeOf(status, body.code), body);
  } catch {
    // Not our service, or something in between: reported below.
  }
  return failure(EXIT.service, 'not-our-service', { status });
}

/** What is wrong with what was given, rather than with giving it. */
const NOT_HELD = new Set(['invalid-workspace', 'checks-fail', 'warnings']);

function exitCodeOf(status: number, code: string): ExitCode {
  if (status === 401 || status === 503) return EXIT.service;
  return NOT_HELD.has(code) ? EXIT.notHeld : status >= 500 ? EXIT.internal : EXIT.refused;
}

export function unreachable(base: string, reason: string | undefined): Failure {
  return failure(EXIT.service, 'service-unreachable', { base, reason });
}
