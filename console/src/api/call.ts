/** An answer of the service that is no success: problem details, or that nothing answered. */
export class CallError extends Error {
  readonly status: number;
  readonly remedy: string | undefined;

  constructor(status: number, detail: string, remedy?: string) {
    super(detail);
    this.status = status;
    this.remedy = remedy;
  }
}

interface ProblemBody {
  readonly detail?: string;
  readonly remedy?: string;
}

/** Calls the API with the session's cookie. */
export async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  const headers: Record<string, string> = { 'x-jade-fence-console': '1' };
  if (body !== undefined) headers['content-type'] = 'application/json';
  let response: Response;
  try {
    response = await fetch(path, { method, headers, ...(body !== undefined && { body: JSON.stringify(body) }) });
  } catch {
    throw new CallError(0, 'The service does not answer.', 'See that it runs; this page tries again by itself.');
  }
  const text = await response.text();
  if (response.ok) return (text === '' ? undefined : JSON.parse(text)) as T;
  const problem = parseProblem(text);
  throw new CallError(response.status, problem.detail ?? `The service answered ${response.status}.`, problem.remedy);
}

function parseProblem(text: string): ProblemBody {
  try {
    return JSON.parse(text) as ProblemBody;
  } catch {
    return {};
  }
}
