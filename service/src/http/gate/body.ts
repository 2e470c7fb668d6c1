import type { IncomingMessage } from 'node:http';
import { refusal } from '../../fault/refusal.js';
import type { Given } from '../../live/grant.js';

const LARGEST_BODY = 64 * 1024;
/** A body that is not whole by then is waited for no longer. */
const LONGEST_MS = 5000;

/** The body of a call, of at most 64 KiB and within 5 seconds. Throws a problem for one that is larger or slower. */
export function bodyOf(call: IncomingMessage): Promise<Buffer> {
  if (Number(call.headers['content-length'] ?? 0) > LARGEST_BODY) return Promise.reject(tooLarge());
  return new Promise((resolve, reject) => {
    const pieces: Buffer[] = [];
    let size = 0;
    const timer = setTimeout(() => reject(tooSlow()), LONGEST_MS);
    call.on('data', (piece: Buffer) => {
      size += piece.length;
      if (size <= LARGEST_BODY) pieces.push(piece);
      else reject(tooLarge());
    });
    call.on('end', () => resolve(Buffer.concat(pieces)));
    call.on('close', () => {
      clearTimeout(timer);
      reject(tooSlow());
    });
    call.on('error', () => reject(tooSlow()));
  });
}

/** A body that came in one piece with its headers, as most do; undefined where it has to be waited for. */
export function bodyAtHand(call: IncomingMessage): Buffer | undefined {
  const length = call.readableLength;
  return length > 0 && length <= LARGEST_BODY && String(length) === call.headers['content-length']
    ? (call.read() as Buffer)
    : undefined;
}

const tooLarge = () => refusal('body-too-large');
const tooSlow = () => refusal('body-too-slow');

/** The object that a JSON body holds. */
export function objectOf(body: Buffer): Record<string, unknown> {
  let value: unknown;
  try {
    value = JSON.parse(body.toString());
  } catch {
    throw refusal('not-json');
  }
  return fieldsOf(value);
}

/** The fields of a JSON object. Refuses anything else with `not-an-object`. */
export function fieldsOf(value: unknown): Record<string, unknown> {
  if (value !== null && typeof value === 'object' && !Array.isArray(value)) return value as Record<string, unknown>;
  throw refusal('not-an-object', { what: 'body' });
}

const NO_GRANTS: readonly string[] = [];

/** The fields of a request, and the grants beside them. */
export function partsOf(body: Buffer): { fields: Record<string, unknown>; some: readonly string[] } {
  const fields = objectOf(body);
  const given = fields.grants;
  if (given === undefined) return { fields, some: NO_GRANTS };
  delete fields.grants;
  return { fields, some: Array.isArray(given) ? given.filter((each) => typeof each === 'string') : [] };
}

/** What a stopped client gives in a form. */
export function formOf(body: Buffer): Given {
  const form = new URLSearchParams(body.toString());
  return { yes: form.get('yes') === 'true', passcode: form.get('passcode'), number: form.get('number') };
}
