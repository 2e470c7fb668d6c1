import { type AnswerOf, type CallName, type CallsWith, type Carrying, messageOf } from '@jade-fence/contract';
import { answerOf, type Sending, send } from './send.js';

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
  base: string,
  who: { readonly name: string; readonly password: string },
  tokenName: string,
): Promise<OwnToken> {
  const opened = await send(base, messageWith({}, 'POST /session', { body: who }));
  const cookie = opened.headers
    .getSetCookie()
    .map((each) => each.split(';', 1)[0])
    .join('; ');
  try {
    const made = await send(base, messageWith({ cookie }, 'POST /tokens', { body: { name: tokenName } }));
    const { token, secret } = await answerOf<AnswerOf<'POST /tokens'>>(base, made);
    return { token, key: secret as string };
  } finally {
    // What came of the token counts: a session that cannot be ended now ends by itself.
    await send(base, messageWith({ cookie }, 'DELETE /session')).catch(() => undefined);
  }
}

function messageWith<C extends Plain>(
  headers: Readonly<Record<string, string>>,
  call: C,
  ...carrying: Carrying<C>
): Sending {
  const message = messageOf(call, ...carrying);
  return { ...message, headers: { ...CONSOLE_HEADER, ...headers, ...message.headers } };
}
