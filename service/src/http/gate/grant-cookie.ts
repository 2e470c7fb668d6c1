import type { IncomingMessage } from 'node:http';

/** The cookie that a client keeps its grants in, parted by `~`. */
const GRANT_COOKIE = 'jade_fence_grants';
const MOST_KEPT_GRANTS = 8;

/** The grants in all cookies of their name, however many there are. */
export function grantsIn({ headers }: IncomingMessage): string[] {
  const cookies = (headers.cookie ?? '').split(';').map((each) => each.trim());
  return cookies
    .filter((each) => each.startsWith(`${GRANT_COOKIE}=`))
    .flatMap((each) => each.slice(GRANT_COOKIE.length + 1).split('~'))
    .filter((each) => each !== '');
}

/** The value of `Set-Cookie` that keeps the newest grants; `until` is the end of the last, in milliseconds. */
export function grantCookie(grants: readonly string[], until: number, secure: boolean): string {
  const kept = grants.slice(-MOST_KEPT_GRANTS).join('~');
  const age = Math.floor((until - Date.now()) / 1000);
  return `${GRANT_COOKIE}=${kept}; Path=/; Max-Age=${age}; HttpOnly; SameSite=Lax${secure ? '; Secure' : ''}`;
}
