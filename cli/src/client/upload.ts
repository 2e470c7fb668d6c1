import { createReadStream, statSync } from 'node:fs';
import { type ClientRequest, request as httpRequest, type IncomingMessage } from 'node:http';
import { request as httpsRequest } from 'node:https';
import type { Readable } from 'node:stream';
import { text } from 'node:stream/consumers';
import { type AnswerOf, type ImportQuery, messageOf } from '@jade-fence/contract';
import type { Client } from './client.js';
import { answerIn, failureOf, unreachable } from './send.js';

export interface Upload {
  readonly query: ImportQuery;
  /** A file to send, or a stream of unknown length. */
  readonly from: string | Readable;
  /** Headers that it carries besides. */
  readonly headers?: Readonly<Record<string, string>>;
  /** Called with the bytes sent so far and, where it is known, their whole number. */
  readonly onProgress: (sent: number, size: number | undefined) => void;
  /** Called when all is sent, with the URL of the import, if the service has sent one. */
  readonly onSent?: (status: string | undefined) => void;
}

/**
 * Streams a file to the service. Asks before sending (`Expect: 100-continue`), so that a file over the limit is
 * refused before its first byte goes out.
 */
export function upload(
  client: Client,
  { query, from, headers: more = {}, onProgress, onSent }: Upload,
): Promise<AnswerOf<'POST /logs'>> {
  const size = typeof from === 'string' ? statSync(from).size : undefined;
  const { method, path } = messageOf('POST /logs', { query });
  const url = new URL(`${client.base}${path}`);
  const open = url.protocol === 'https:' ? httpsRequest : httpRequest;
  const headers = {
    ...client.headers(),
    ...more,
    expect: '100-continue',
    ...(size !== undefined && { 'content-length': size }),
  };
  return new Promise((resolve, reject) => {
    const call = open(url, { method, headers });
    let answered = false;
    let status: string | undefined;
    // Early hints (RFC 8297) carry the link of the import (RFC 8631).
    call.on('information', ({ headers: hints }) => {
      status ??= /<([^>]*)>;\s*rel="?status"?/.exec(String(hints.link ?? ''))?.[1];
    });
    call.on('finish', () => onSent?.(status));
    call.on('continue', () =>
      send(call, typeof from === 'string' ? createReadStream(from, { highWaterMark: 1 << 18 }) : from),
    );
    call.on('response', (response) => {
      answered = true;
      answer(response).then(resolve, reject);
    });
    call.on('error', (error: NodeJS.ErrnoException) => {
      // The service may refuse and hang up while we still send; then its answer counts, not the broken pipe.
      if (!answered) reject(unreachable(client.base, error.code));
    });
    call.flushHeaders();
    let sent = 0;
    function send(to: ClientRequest, stream: Readable): void {
      stream.on('data', (piece: Buffer) => {
        sent += piece.length;
        onProgress(sent, size);
      });
      stream.on('error', (error) => {
        // A file that cannot be read is no fault of the service's.
        reject(error);
        to.destroy();
      });
      stream.pipe(to);
    }
  });
}

async function answer(response: IncomingMessage): Promise<AnswerOf<'POST /logs'>> {
  const [whole, status] = [await text(response), response.statusCode ?? 500];
  if (status >= 300) throw failureOf(status, whole);
  return answerIn(status, whole);
}
