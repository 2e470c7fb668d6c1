import { type AnswerOf, type CallName, type CallsWith, type Carrying, messageOf } from '@jade-fence/contract';
import { failureOf, unreachable } from './client.js';

/** A call that is made before there is a key. */
type Plain = Exclude<CallName, CallsWith<'file' | 'download' | 'events'>>;

/** Calls with a session's cookie take this header, which pages of other sites cannot send. */
const CONSOLE_HEADER = { 'x-jade-fence-console': '1' };

/** A token that was made for this client. */
export interface OwnToken {
  readonly token: number;
  readonly key: string;
}

/**
 * Signs in by name and password, makes a token for this client, and ends the session again: what is kept is a key that
 * can be removed by itself, and no password.
 */
export async function tokenByPassword(
  service: string,
  who: { readonly name: string; readonly password: string },
  tokenName: string,
): Promise<OwnToken> {
  const opened = await send(service, {}, 'POST /session', { body: who });
  const cookie = opened.response.headers
    .getSetCookie()
    .map((each) => each.split(';', 1)[0])
    .join('; ');
  try {
    const { answer } = await send(service, { cookie }, 'POST /tokens', { body: { name: tokenName } });
    return { token: answer.token, key: answer.secret as string };
  } finally {
    await send(service, { cookie }, 'DELETE /session');
  }
}

async function send<C extends Plain>(
  service: string,
  headers: Readonly<Record<string, string>>,
  call: C,
  ...carrying: Carrying<C>
): Promise<{ readonly response: Response; readonly answer: AnswerOf<C> }> {
  const message = messageOf(call, ...carrying);
  const { method, path, body } = message;
  const response = await fetch(`${service.replace(/\/+$/, '')}${path}`, {
    method,
    headers: { ...CONSOLE_HEADER, ...headers, ...message.headers },
    ...(body !== undefined && { body }),
  }).catch((error) => {
    throw unreachable(service, (error as { cause?: { code?: string } }).cause?.code);
  });
  const text = await response.text();
  if (!response.ok) throw failureOf(response.status, text);
  return { response, answer: (text === '' ? undefined : JSON.parse(text)) as AnswerOf<C> };
}
