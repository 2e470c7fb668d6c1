import { open } from 'node:fs/promises';
import { type IncomingMessage, request as requestPlain } from 'node:http';
import { request as requestSecure } from 'node:https';
import { join } from 'node:path';
import { isPrivateAddress, lookUpPublic, PrivateTarget } from '../outgoing/public-only.js';

/** What a feed is fetched by. */
export interface FetchOrder {
  /** An `http:` or `https:` address, or `file:` and a name in the folder. */
  readonly source: string;
  /** What it was called when it was last taken; null: fetch it in any case. */
  readonly tag: string | null;
  readonly allowPrivate: boolean;
  /** The folder that files are taken from. */
  readonly folder: string;
  readonly signal: AbortSignal;
}

/** A state of a feed, or that it is as it was. */
export type Fetched = { readonly text: string; readonly tag: string | null } | 'unchanged';

const LARGEST = 64 * 1024 * 1024;
const MOST_REDIRECTS = 3;
const TIMEOUT_MS = 60_000;

/** Fetches a feed. Throws with a sentence that says why it cannot be had. */
export async function fetchFeed(order: FetchOrder): Promise<Fetched> {
  const signal = AbortSignal.any([order.signal, AbortSignal.timeout(TIMEOUT_MS)]);
  const fetched = order.source.startsWith('file:') ? await fromFile(order) : await fromWeb({ ...order, signal });
  if (fetched === 'unchanged') return fetched;
  return { text: textOf(fetched.bytes), tag: fetched.tag };
}

type Bytes = { readonly bytes: Buffer; readonly tag: string | null } | 'unchanged';

async function fromFile({ source, tag, folder }: FetchOrder): Promise<Bytes> {
  const name = source.slice('file:'.length);
  const file = await open(join(folder, name), 'r').catch((error: NodeJS.ErrnoException) => {
    throw new Error(error.code === 'ENOENT' ? `There is no file ${name} in ${folder}.` : `${name}: ${error.message}.`);
  });
  try {
    const { mtimeMs, size } = await file.stat();
    if (size > LARGEST) throw tooLarge();
    const now = `${mtimeMs} ${size}`;
    return now === tag ? 'unchanged' : { bytes: await file.readFile(), tag: now };
  } finally {
    await file.close();
  }
}

async function fromWeb(order: FetchOrder): Promise<Bytes> {
  let address = new URL(order.source);
  for (let redirects = 0; redirects <= MOST_REDIRECTS; redirects++) {
    const response = await answerOf(address, order);
    const status = response.statusCode ?? 0;
    const { location, etag } = response.headers;
    if (status === 304) {
      response.resume();
      return 'unchanged';
    }
    if (status === 200) return { bytes: await bytesOf(response), tag: etag ?? null };
    response.resume();
    if (status < 300 || status >= 400 || location === undefined) throw new Error(`It answered with status ${status}.`);
    address = new URL(location, address);
    if (!/^https?:$/.test(address.protocol)) throw new Error(`It leads to ${address.protocol}, which is not the web.`);
  }
  throw new Error(`It leads on more than ${MOST_REDIRECTS} times.`);
}

function answerOf(address: URL, { tag, allowPrivate, signal }: FetchOrder): Promise<IncomingMessage> {
  if (!allowPrivate && isPrivateAddress(address.hostname)) throw new PrivateTarget(address.hostname);
  const headers = { accept: 'text/plain, */*', ...(tag === null ? {} : { 'if-none-match': tag }) };
  const options = { headers, signal, agent: false, ...(allowPrivate ? {} : { lookup: lookUpPublic }) };
  return new Promise((resolve, reject) => {
    const call = (address.protocol === 'https:' ? requestSecure : requestPlain)(address, options, resolve);
    call.once('error', (error) => reject(reasonOf(error)));
    call.end();
  });
}

async function bytesOf(response: IncomingMessage): Promise<Buffer> {
  const parts: Buffer[] = [];
  let size = 0;
  try {
    for await (const part of response) {
      size += part.length;
      if (size > LARGEST) throw tooLarge();
      parts.push(part);
    }
  } catch (error) {
    throw reasonOf(error as Error);
  }
  return Buffer.concat(parts);
}

function reasonOf(error: Error): Error {
  if (error.name === 'AbortError' || error.name === 'TimeoutError')
    return new Error(`It did not answer within ${TIMEOUT_MS / 1000} seconds.`);
  return 'code' in error ? new Error(`It cannot be reached: ${error.message}.`) : error;
}

const tooLarge = () => new Error(`It is larger than ${LARGEST / 1024 / 1024} MiB.`);

function textOf(bytes: Buffer): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new Error('It is not text in UTF-8.');
  }
}
