import {
  type AnswerOf,
  type CallName,
  type CallsWith,
  type Carried,
  type Carrying,
  messageOf,
} from '@jade-fence/contract';

/** One thing that is wrong with what was sent: of a file by its line, of a form by its field. */
export interface CallIssue {
  readonly path: string;
  readonly what: string;
  readonly line?: number;
  readonly remedy?: string;
}

/** An answer of the service that is no success: problem details, or that nothing answered. */
export class CallError extends Error {
  readonly status: number;
  readonly code: string;
  readonly remedy: string | undefined;
  readonly issues: readonly CallIssue[];

  constructor(status: number, detail: string, problem: ProblemBody = {}) {
    super(detail);
    this.status = status;
    this.code = problem.code ?? '';
    this.remedy = problem.remedy;
    this.issues = problem.issues ?? [];
  }
}

interface ProblemBody {
  readonly code?: string;
  readonly detail?: string;
  readonly remedy?: string | undefined;
  readonly issues?: readonly CallIssue[];
}

/** What every call of the console carries, so that no other page can make one. */
const OWN: Readonly<Record<string, string>> = { 'x-jade-fence-console': '1' };

/** A call that carries no file, and answers JSON or nothing. */
export type PlainCall = Exclude<CallName, CallsWith<'file' | 'download' | 'events'>>;

/** Makes a call of the contract with the session's cookie. */
export async function call<C extends PlainCall>(call: C, ...carrying: Carrying<C>): Promise<AnswerOf<C>> {
  const { method, path, headers, body } = messageOf(call, ...carrying);
  let response: Response;
  try {
    response = await fetch(path, { method, headers: { ...OWN, ...headers }, ...(body !== undefined && { body }) });
  } catch {
    throw unreachable();
  }
  return answered<AnswerOf<C>>(response.status, await response.text());
}

export interface Sending {
  readonly headers?: Readonly<Record<string, string>>;
  readonly onProgress?: (share: number) => void;
  readonly signal?: AbortSignal;
}

/** Sends a file, and reports the share that has gone. */
export function sendFile<C extends CallsWith<'file'>>(
  call: C,
  file: Blob,
  carried: Carried<C>,
  { headers = {}, onProgress, signal }: Sending = {},
): Promise<AnswerOf<C>> {
  const { method, path } = messageOf(call, ...([carried] as unknown as Carrying<C>));
  return new Promise((resolve, reject) => {
    const sent = new XMLHttpRequest();
    sent.open(method, path);
    for (const [name, value] of Object.entries({ ...OWN, ...headers })) sent.setRequestHeader(name, value);
    sent.upload.onprogress = ({ loaded, total }) => onProgress?.(total === 0 ? 0 : loaded / total);
    sent.onerror = () => reject(lost());
    sent.onabort = () => reject(new CallError(0, 'It was cancelled; nothing was kept.'));
    sent.onload = () => {
      try {
        resolve(answered<AnswerOf<C>>(sent.status, sent.responseText));
      } catch (error) {
        reject(error);
      }
    };
    signal?.addEventListener('abort', () => sent.abort());
    sent.send(file);
  });
}

const lost = () =>
  new CallError(0, 'The service went away before it answered.', {
    remedy: 'When it is back, see whether what was sent is there, and send it again where it is not.',
  });

const unreachable = () =>
  new CallError(0, 'The service does not answer.', { remedy: 'See that it runs; this page tries again by itself.' });

function answered<T>(status: number, text: string): T {
  if (status >= 200 && status < 300) return (text === '' ? undefined : JSON.parse(text)) as T;
  const problem = parseProblem(text);
  throw new CallError(status, problem.detail ?? `The service answered ${status}.`, problem);
}

/** The problem of an answer; empty where what answered is none of ours. */
function parseProblem(text: string): ProblemBody {
  try {
    const problem: unknown = JSON.parse(text);
    return problem !== null && typeof problem === 'object' ? (problem as ProblemBody) : {};
  } catch {
    return {};
  }
}
