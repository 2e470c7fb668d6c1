/** Whether an error says that the database, or the connection to it, was lost: what failed may succeed when tried again. */
export function isDatabaseLost(error: unknown): boolean {
  const { code = '', message = '' } = (error ?? {}) as { code?: string; message?: string };
  // Class 08 are lost connections, 57P a server that stops or starts.
  if (/^(?:08...|57P..)$/.test(code) || /^(?:ECONNREFUSED|EPIPE)$/.test(code)) return true;
  // The socket of a managed server is gone with it.
  if (code === 'ENOENT' && (error as { syscall?: string }).syscall === 'connect') return true;
  return /[Cc]onnection (?:terminated|ended)|Timeout acquiring|not queryable/.test(message);
}

/** Whether an error says that the database has used up what it has: first of all its disk (class 53 of SQLSTATE). */
export const isDatabaseFull = (error: unknown): boolean => /^53/.test((error as { code?: string } | null)?.code ?? '');
