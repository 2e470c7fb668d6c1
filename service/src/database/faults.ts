interface Fault {
  readonly code: string;
  readonly message: string;
  readonly syscall: string | undefined;
}

/** What the driver said; the query builder wraps it. */
function faultOf(error: unknown): Fault {
  const shown = (error ?? {}) as Partial<Fault> & { readonly nativeError?: Partial<Fault> };
  const { code, message, syscall } = shown.nativeError ?? shown;
  return { code: String(code ?? ''), message: message ?? '', syscall };
}

/** Whether an error says that the database, or the connection to it, was lost: what failed may succeed when tried again. */
export function isDatabaseLost(error: unknown): boolean {
  const { code, message, syscall } = faultOf(error);
  // Class 08 are lost connections, 57P a server that stops or starts, 53300 one that has all the connections it takes.
  if (
    /^(?:08...|57P..|53300)$/.test(code) ||
    /^(?:ECONN(?:REFUSED|RESET)|EPIPE|ETIMEDOUT|E(?:HOST|NET)UNREACH|ENOTFOUND|EAI_AGAIN)$/.test(code)
  )
    return true;
  // The socket of a managed server is gone with it.
  if (code === 'ENOENT' && syscall === 'connect') return true;
  return /[Cc]onnection (?:terminated|ended)|Timeout acquiring|[Uu]nable to acquire|not queryable/.test(message);
}

/** Whether an error says that the database has used up what it has: first of all its disk (class 53 of SQLSTATE). */
export const isDatabaseFull = (error: unknown): boolean => /^53(?!300)/.test(faultOf(error).code);

/** Whether an error says that others held what was needed for longer than one waits (lock, statement, idle transaction). */
export const isDatabaseBusy = (error: unknown): boolean => ['55P03', '57014', '25P03'].includes(faultOf(error).code);

/** Whether an error says that a text holds a character that the database does not store, such as NUL. */
export const isUnstorable = (error: unknown): boolean => /^(?:22021|22P05)$/.test(faultOf(error).code);
