import type { CookieOptions, Request } from 'express';

const NAME = 'jade_fence_session';

/** The cookie of a session. Where the service is reached by https it goes nowhere else, by its name (RFC 6265bis, 4.1.3.2). */
export class SessionCookie {
  readonly name: string;
  readonly options: CookieOptions;

  /** `publicUrl`: where browsers reach the service; undefined: as they call it. */
  constructor(publicUrl: string | undefined) {
    const secure = publicUrl?.startsWith('https:') ?? false;
    this.name = secure ? `__Host-${NAME}` : NAME;
    this.options = { httpOnly: true, sameSite: 'strict', secure, path: '/' };
  }

  tokenOf(request: Request): string | undefined {
    const cookies = (request.get('cookie') ?? '').split(';').map((each) => each.trim().split('='));
    return cookies.find(([name]) => name === this.name)?.[1];
  }
}
