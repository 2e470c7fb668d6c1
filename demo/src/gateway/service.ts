/** The calls of a gateway to the service that decides. */
export class DecidingService {
  readonly #url: string;
  readonly #headers: Record<string, string>;

  constructor(url: string, key: string) {
    this.#url = url;
    this.#headers = { authorization: `Bearer ${key}`, 'content-type': 'application/json' };
  }

  /** The address of a probe, and the names of those that have one. */
  async probes(): Promise<Map<string, string>> {
    const { objects } = await this.#get<{ objects: { kind: string; name: string }[] }>('/api/objects');
    const names = objects.filter(({ kind }) => kind === 'probe').map(({ name }) => name);
    const found = await Promise.all(
      names.map(async (name) => {
        const { client } = await this.#get<{ client: string | null }>(
          `/api/effective?probe=${encodeURIComponent(name)}`,
        );
        return [name, client] as const;
      }),
    );
    return new Map(found.flatMap(([name, client]) => (client === null ? [] : [[name, client] as const])));
  }

  decide(request: AskedRequest, grants: readonly string[]): Promise<Decided> {
    return this.#post('/decide', { ...request, grants });
  }

  grant(request: AskedRequest, given: object): Promise<{ grant?: string; until?: string; detail?: string }> {
    return this.#post('/decide/grants', { request, ...given });
  }

  async #get<T>(path: string): Promise<T> {
    return (await fetch(`${this.#url}${path}`, { headers: this.#headers })).json() as Promise<T>;
  }

  async #post<T>(path: string, body: object): Promise<T> {
    const sent = { method: 'POST', headers: this.#headers, body: JSON.stringify(body) };
    return (await fetch(`${this.#url}${path}`, sent)).json() as Promise<T>;
  }
}

/** A request as the service is asked about it. */
export interface AskedRequest {
  readonly peer: string;
  readonly method: string;
  readonly scheme: string;
  readonly host: string;
  readonly path: string;
  readonly query?: string;
  readonly agent?: string;
}

export interface Decided {
  readonly effect: string;
  readonly verdict: string;
  readonly policy: string | null;
  readonly rule: string | null;
  /** What went wrong, where the service could not decide. */
  readonly detail?: string;
  readonly answer?: {
    readonly status: number;
    readonly location?: string;
    readonly notice?: { readonly title?: string; readonly detail?: string; readonly contact?: string };
    readonly asks?: { readonly for: 'yes' | 'passcode' | 'number'; readonly seed?: string; readonly zeroBits?: number };
  };
}
