/** Where the service is, and what opens it: its API with a key, its live decisions with a gateway's token. */
export interface Addresses {
  readonly url: string;
  readonly gateUrl: string;
}

/** The calls of a gateway to the service that decides. */
export class DecidingService {
  readonly #addresses: Addresses;
  readonly #key: string;
  #token: Promise<string> | undefined;

  constructor(addresses: Addresses, key: string) {
    this.#addresses = addresses;
    this.#key = key;
  }

  /** The address of a probe, and the names of those that have one. */
  async probes(): Promise<Map<string, string>> {
    const { objects } = await this.#get<{ objects: { kind: string; name: string }[] }>('/api/v1/objects');
    const names = objects.filter(({ kind }) => kind === 'probe').map(({ name }) => name);
    const found = await Promise.all(
      names.map(async (name) => {
        const { client } = await this.#get<{ client: string | null }>(
          `/api/v1/effective?probe=${encodeURIComponent(name)}`,
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
    const headers = { authorization: `Bearer ${this.#key}` };
    return (await fetch(`${this.#addresses.url}${path}`, { headers })).json() as Promise<T>;
  }

  async #post<T>(path: string, body: object): Promise<T> {
    this.#token ??= this.#makeToken();
    const headers = { authorization: `Bearer ${await this.#token}`, 'content-type': 'application/json' };
    const sent = { method: 'POST', headers, body: JSON.stringify(body) };
    return (await fetch(`${this.#addresses.gateUrl}${path}`, sent)).json() as Promise<T>;
  }

  /** A token of its own for this run of the gate, good for a day. */
  async #makeToken(): Promise<string> {
    const expires = new Date(Date.now() + 86_400_000).toISOString();
    const body = JSON.stringify({ name: `garden-gate-${Date.now()}`, kind: 'gateway', expires });
    const headers = { authorization: `Bearer ${this.#key}`, 'content-type': 'application/json' };
    const answer = await fetch(`${this.#addresses.url}/api/v1/tokens`, { method: 'POST', headers, body });
    const { secret, detail } = (await answer.json()) as { secret?: string; detail?: string };
    if (secret === undefined) throw new Error(`no token for the gate: ${detail}`);
    return secret;
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
