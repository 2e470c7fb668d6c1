import { randomBytes, type ScryptOptions, scrypt, timingSafeEqual } from 'node:crypto';

/** 32 MiB and about a tenth of a second for each guess (RFC 7914; the parameters are kept with each hash). */
const COST: Required<Pick<ScryptOptions, 'N' | 'r' | 'p'>> = { N: 32768, r: 8, p: 1 };
const MOST_MEMORY = 128 * 1024 * 1024;
const SALT_BYTES = 16;
const HASH_BYTES = 32;

/** A password as it is kept: `scrypt$N$r$p$SALT$HASH`, the last two in base64url. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(SALT_BYTES);
  const hash = await derive(password, salt, COST);
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64url'), hash.toString('base64url')].join('$');
}

/** Whether the password is the stored one. Without a stored one it takes as long, so that names cannot be guessed. */
export async function isPassword(password: string, kept: string | null): Promise<boolean> {
  const [, N, r, p, salt, hash] = (kept ?? NOBODY).split('$') as [string, string, string, string, string, string];
  const expected = Buffer.from(hash, 'base64url');
  const cost = { N: Number(N), r: Number(r), p: Number(p) };
  const given = await derive(password, Buffer.from(salt, 'base64url'), cost);
  return timingSafeEqual(given, expected) && kept !== null;
}

/** The hash of no password: nothing is known to lead to it. */
const NOBODY = [
  'scrypt',
  COST.N,
  COST.r,
  COST.p,
  'AAAAAAAAAAAAAAAAAAAAAA',
  Buffer.alloc(HASH_BYTES).toString('base64url'),
].join('$');

function derive(password: string, salt: Buffer, cost: typeof COST): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    // One password may be typed in two forms of Unicode.
    scrypt(password.normalize('NFKC'), salt, HASH_BYTES, { ...cost, maxmem: MOST_MEMORY }, (error, hash) =>
      error ? reject(error) : resolve(hash),
    );
  });
}
